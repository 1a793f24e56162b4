import { useEffect, useState } from "react";

/** A value once it has stayed the same for a moment: for questions that take long, while somebody types. */
export function useCalm<T>(value: T, milliseconds = 300): T {
  const text = JSON.stringify(value);
  const [calm, setCalm] = useState({ text, value });
  useEffect(() => {
    const later = setTimeout(() => setCalm({ text, value: JSON.parse(text) as T }), milliseconds);
    return () => clearTimeout(later);
  }, [text, milliseconds]);
  return calm.value;
}
