import { type ReactNode, useEffect, useRef, useState } from "react";

/** Something that may be wider than the page: it scrolls by itself, by keys too where there is something to scroll. */
export function Wide({ label, className = "", children }: { label: string; className?: string; children: ReactNode }) {
  const box = useRef<HTMLElement>(null);
  const [isWide, setWide] = useState(false);
  useEffect(() => {
    const element = box.current;
    if (!element) return;
    const look = () => setWide(element.scrollWidth > element.clientWidth);
    const observer = new ResizeObserver(look);
    observer.observe(element);
    for (const child of element.children) observer.observe(child);
    return () => observer.disconnect();
  }, []);
  return (
    <section
      ref={box}
      aria-label={label}
      className={`relative overflow-x-auto ${className}`}
      {...(isWide && { tabIndex: 0 })}
    >
      {children}
    </section>
  );
}
