import type { Schemas } from "@/shared/api/client";

const WIDE = 6;
const HIGH = 22;

/** A row's months at a glance: what happened as ink, what was expected as a pencilled line; the numbers stand beside. */
export function Strip({ cells }: { cells: Schemas["TwoModel"][] }) {
  const most = Math.max(1, ...cells.map((cell) => Math.max(cell.expected, cell.actual)));
  const high = (amount: number) => Math.round((Math.max(0, amount) / most) * (HIGH - 2));
  return (
    <svg
      width={cells.length * WIDE}
      height={HIGH}
      viewBox={`0 0 ${cells.length * WIDE} ${HIGH}`}
      className="max-w-40"
      aria-hidden="true"
    >
      {cells.map((cell, at) => {
        const expected = HIGH - high(cell.expected) - 0.5;
        return (
          // biome-ignore lint/suspicious/noArrayIndexKey: a month is its place
          <g key={at} transform={`translate(${at * WIDE} 0)`}>
            <rect x="1" y={HIGH - high(cell.actual)} width={WIDE - 2} height={high(cell.actual)} fill="var(--ink)" />
            {cell.expected > 0 && <path d={`M0 ${expected}h${WIDE}`} stroke="var(--pencil)" />}
          </g>
        );
      })}
    </svg>
  );
}
