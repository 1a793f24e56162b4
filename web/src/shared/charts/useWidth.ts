import { type RefObject, useLayoutEffect, useRef, useState } from "react";

/** An element's width in pixels as it changes; 0 until it is known. */
export function useWidth<T extends HTMLElement>(): [RefObject<T | null>, number] {
  const ref = useRef<T>(null);
  const [width, setWidth] = useState(0);
  useLayoutEffect(() => {
    if (!ref.current) return;
    // Measured before anything is seen: what is below a chart does not move once it is drawn.
    setWidth(Math.round(ref.current.getBoundingClientRect().width));
    const observer = new ResizeObserver(([entry]) => entry && setWidth(Math.round(entry.contentRect.width)));
    observer.observe(ref.current);
    return () => observer.disconnect();
  }, []);
  return [ref, width];
}
