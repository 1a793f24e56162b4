import { useEffect, useState } from "react";

const FIRST_PAGE = 1200;

/** Whether the first page stands by now, so that what is wanted later may be asked for. */
export function useIsCalm(): boolean {
  const [isCalm, setCalm] = useState(false);
  useEffect(() => {
    const later = setTimeout(() => setCalm(true), FIRST_PAGE);
    return () => clearTimeout(later);
  }, []);
  return isCalm;
}
