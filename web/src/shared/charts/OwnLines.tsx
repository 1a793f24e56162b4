import type { Schemas } from "@/shared/api/client";
import { Balance } from "./Balance";
import type { Scales } from "./steps";

export type OwnLine = Schemas["OwnLine"];

interface Props {
  lines: readonly OwnLine[];
  today: string;
  first: number;
  last: number;
  width: number;
  scales: Scales;
}

const APART = 15;

/** Several accounts, each with its own line and its own floor, named at its end. */
export function OwnLines({ lines, today, first, last, width, scales }: Props) {
  const ends = lines
    .map((line) => ({ line, y: scales.y((line.pencil.at(-1)?.[1] as number | undefined) ?? 0) }))
    .sort((a, b) => a.y - b.y);
  let lowest = 12;
  return (
    <>
      {ends.map(({ line, y }) => {
        const text = Math.max(lowest, y - 5);
        lowest = text + APART;
        return (
          <g key={line.id} data-testid="own-line">
            <line
              x1="0"
              x2={width}
              y1={scales.y(line.floor)}
              y2={scales.y(line.floor)}
              stroke="var(--rust)"
              strokeDasharray="1 4"
            />
            <Balance line={line} today={today} first={first} last={last} scales={scales} />
            <text
              x={width - 4}
              y={text}
              textAnchor="end"
              fontSize="13"
              fill="var(--ink)"
              stroke="var(--paper)"
              strokeWidth="4"
              paintOrder="stroke"
            >
              {line.name}
            </text>
          </g>
        );
      })}
    </>
  );
}
