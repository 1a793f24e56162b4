import { type RefObject, useEffect, useRef } from "react";
import { useShortcuts } from "@/shared/hooks/useShortcuts";

/** Keys that walk from line to line, and on to the next one when a line was worked off. */
export function useWalking(list: RefObject<HTMLElement | null>) {
  const elements = (what: string) => [...(list.current?.querySelectorAll<HTMLElement>(what) ?? [])];
  const rowElements = () => elements("[data-due]");
  // By keys one walks on from what is due to what may be taken back.
  const walk = (step: 1 | -1) => {
    const all = elements("[data-due], [data-take-back]");
    const at = all.indexOf(document.activeElement as HTMLElement);
    (at < 0 ? all.at(step > 0 ? 0 : -1) : all[at + step])?.focus();
  };
  const toTakeBack = () => elements("[data-take-back]")[0]?.focus();
  useShortcuts({ ...walking(walk), t: toTakeBack });
  // Where the next line to work off is, from when one was worked off until the person moves on.
  const next = useRef<number | null>(null);
  useEffect(() => {
    if (next.current === null || document.activeElement !== document.body) return;
    const rows = rowElements();
    rows[Math.min(next.current, rows.length - 1)]?.focus();
  });
  return { rowElements, toTakeBack, next };
}

const walking = (walk: (step: 1 | -1) => void): Record<string, () => void> =>
  Object.fromEntries([
    ["ArrowDown", () => walk(1)],
    ["ArrowUp", () => walk(-1)],
  ]);
