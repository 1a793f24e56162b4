import { monthNumber } from "@/places/debts/way/wayColumns";
import type { Column, Picture } from "@/places/debts/way/wayOut";
import { monthOf } from "@/shared/format";

// More names than that have no room beside the picture: they stand below it.
export const MOST_LABELS = 6;
const LINE = 18;

interface Props {
  picture: Picture;
  columns: Column[];
  width: number;
  top: number;
  /** Where the end of a month, and so much owed, is drawn. */
  x: (month: number) => number;
  y: (owed: number) => number;
}

/** Each debt's name where there is room, with a line to where its band ends. */
export function WayLabels({ picture, columns, width, top, x, y }: Props) {
  const cleared = picture.debts
    .flatMap(({ id, name, clears }) => (clears ? [{ id, name, clears, month: monthNumber(clears) }] : []))
    .sort((one, other) => one.month - other.month);
  if (cleared.length > MOST_LABELS) return null;
  const left = width * (width < 480 ? 0.4 : 0.52);
  return (
    <g fontSize="13" fill="var(--ink)" stroke="var(--paper)" strokeWidth="3" paintOrder="stroke">
      {cleared.map(({ id, name, clears, month }, place) => {
        const sum = columns.find((column) => column.month === clears)?.sum ?? 0;
        const line = top + 4 + place * LINE;
        return (
          <g key={id}>
            <path
              d={`M${x(month)} ${y(sum)}L${left - 4} ${line - 4}`}
              fill="none"
              stroke="var(--pencil)"
              strokeWidth="0.8"
            />
            <circle cx={x(month)} cy={y(sum)} r="3" stroke="none" />
            <text x={left} y={line}>
              {name.length > 24 ? `${name.slice(0, 23)}…` : name}, {monthOf(clears)}
            </text>
          </g>
        );
      })}
    </g>
  );
}
