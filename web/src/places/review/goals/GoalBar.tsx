import type { Goal } from "./useGoals";

const WIDTH = 600;

/** So far in ink, from there on to where the forecast ends pencilled, and a mark at what is aimed at. */
export function GoalBar({ goal }: { goal: Goal }) {
  const { target, so_far, by_end } = goal;
  const most = Math.max(1, target, so_far, by_end);
  const at = (amount: number) => Math.round((Math.max(0, amount) / most) * (WIDTH - 8)) + 2;
  return (
    <svg viewBox={`0 0 ${WIDTH} 20`} preserveAspectRatio="none" className="my-1 block h-5 w-full" aria-hidden="true">
      <line
        x1="1"
        x2="1"
        y1="2"
        y2="18"
        stroke="var(--rule-strong)"
        strokeWidth="2"
        vectorEffect="non-scaling-stroke"
      />
      <rect x="2" y="6" width={at(so_far) - 2} height="8" fill="var(--ink)" />
      <rect
        x="2"
        y="3.5"
        width={at(by_end) - 2}
        height="13"
        fill="none"
        stroke="var(--pencil)"
        strokeDasharray="4 3"
        vectorEffect="non-scaling-stroke"
      />
      <line
        x1={at(target)}
        x2={at(target)}
        y1="0"
        y2="20"
        stroke="var(--copper)"
        strokeWidth="3"
        vectorEffect="non-scaling-stroke"
      />
    </svg>
  );
}
