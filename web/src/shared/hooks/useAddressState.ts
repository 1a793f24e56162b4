import { useEffect, useRef, useState } from "react";

// Long enough for the next letter of somebody who types fast, short enough not to be noticed.
const PAUSE = 250;

/** A text that ends up in the address. What is typed is its own; the address follows when typing pauses. */
export function useAddressState(saved: string, onSettled: (text: string) => void) {
  const [text, setText] = useState(saved);
  const sent = useRef(saved);
  const tell = useRef(onSettled);
  tell.current = onSettled;
  useEffect(() => {
    // The address changed by itself: by the back button, or a link.
    if (saved !== sent.current) {
      sent.current = saved;
      setText(saved);
    }
  }, [saved]);
  useEffect(() => {
    if (text === sent.current) return;
    const timer = setTimeout(() => {
      sent.current = text;
      tell.current(text);
    }, PAUSE);
    return () => clearTimeout(timer);
  }, [text]);
  return [text, setText] as const;
}
