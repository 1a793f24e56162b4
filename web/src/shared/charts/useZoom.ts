import { type RefObject, useCallback, useEffect, useRef } from "react";
import { dayNumber, dayOfNumber } from "@/shared/format";

const SHORTEST = 14;
const LONGEST_AHEAD = 3653;
const LONGEST_BEHIND = 1830;
// Wheels and fingers turn faster than forecasts are drawn: what they ask for is gathered.
const PAUSE = 90;

interface Shown {
  from: string;
  until: string;
}

/** Days around one of them, closer (below 1) or further; never further than ten years ahead. */
export function zoomed({ from, until }: Shown, today: string, around: number, factor: number): Shown {
  const first = dayNumber(from);
  const last = dayNumber(until);
  const length = Math.max(SHORTEST, (last - first) * factor);
  const share = (around - first) / Math.max(1, last - first);
  const begin = Math.max(Math.round(around - share * length), dayNumber(today) - LONGEST_BEHIND);
  const end = Math.min(Math.round(begin + length), dayNumber(today) + LONGEST_AHEAD);
  return { from: dayOfNumber(begin), until: dayOfNumber(Math.max(end, begin + SHORTEST, dayNumber(today) + 1)) };
}

/** Wheel and pinch over a picture of days; `onZoom` is told the day number around which, and by how much.
 *  The answer does the same for keys. */
export function useZoom(
  ref: RefObject<HTMLElement | null>,
  dayAt: (across: number) => number,
  onZoom: (around: number, factor: number) => void,
): (around: number, by: number) => void {
  const tell = useRef({ dayAt, onZoom });
  tell.current = { dayAt, onZoom };
  const asked = useRef({ factor: 1, around: 0, timer: undefined as ReturnType<typeof setTimeout> | undefined });
  const gather = useCallback((around: number, by: number) => {
    const waiting = asked.current;
    waiting.around = around;
    waiting.factor *= by;
    waiting.timer ??= setTimeout(() => {
      const { factor } = waiting;
      waiting.factor = 1;
      waiting.timer = undefined;
      tell.current.onZoom(waiting.around, factor);
    }, PAUSE);
  }, []);
  useEffect(() => {
    const box = ref.current;
    if (!box) return;
    const at = (clientX: number) => tell.current.dayAt(clientX - box.getBoundingClientRect().left);
    const onWheel = (event: WheelEvent) => {
      event.preventDefault();
      gather(at(event.clientX), Math.exp(Math.max(-80, Math.min(80, event.deltaY)) / 250));
    };
    const fingers = new Map<number, number>();
    const onDown = (event: PointerEvent) => fingers.set(event.pointerId, event.clientX);
    const onUp = (event: PointerEvent) => fingers.delete(event.pointerId);
    const onMove = (event: PointerEvent) => {
      if (!fingers.has(event.pointerId)) return;
      const [one, other] = [...fingers.keys()];
      const before = apart(fingers);
      fingers.set(event.pointerId, event.clientX);
      if (one === undefined || other === undefined || before < 10) return;
      gather(at(((fingers.get(one) ?? 0) + (fingers.get(other) ?? 0)) / 2), before / Math.max(10, apart(fingers)));
    };
    box.addEventListener("wheel", onWheel, { passive: false });
    box.addEventListener("pointerdown", onDown);
    box.addEventListener("pointermove", onMove);
    for (const name of ["pointerup", "pointercancel", "lostpointercapture"] as const) box.addEventListener(name, onUp);
    return () => {
      box.removeEventListener("wheel", onWheel);
      box.removeEventListener("pointerdown", onDown);
      box.removeEventListener("pointermove", onMove);
      for (const name of ["pointerup", "pointercancel", "lostpointercapture"] as const)
        box.removeEventListener(name, onUp);
    };
  }, [ref, gather]);
  return gather;
}

function apart(fingers: Map<number, number>): number {
  const [one, other] = [...fingers.values()];
  return one === undefined || other === undefined ? 0 : Math.abs(one - other);
}
