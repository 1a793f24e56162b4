import type { Schemas } from "@/shared/api/client";
import { linear } from "@/shared/charts/linear";
import { BAND_FROM_DAYS, lowsPath, monthRanges } from "@/shared/charts/months";
import { stepPath } from "@/shared/charts/steps";
import { TimeAxis } from "@/shared/charts/TimeAxis";
import { useWidth } from "@/shared/charts/useWidth";
import { dayNumber, money } from "@/shared/format";
import { lookOf } from "./looks";

const HEIGHT = 220;
const AXIS = 22;
const TOP = 10;

/** All ways over each other on one picture. */
export function BesideChart({ data }: { data: Schemas["SideBySideAnswer"] }) {
  const [ref, width] = useWidth<HTMLDivElement>();
  const first = dayNumber(data.today);
  const last = dayNumber(data.until) + 1;
  const balances = data.ways.flatMap((way) => way.levels.map((level) => level[1] as number));
  const low = Math.min(0, ...balances);
  const x = linear({ domain: [first, last], range: [0, width] });
  const y = linear({
    domain: [low, Math.max(low + 1, ...balances)],
    range: [HEIGHT - AXIS - 6, TOP],
  });
  const scales = { x: (day: number) => x(day), y: (amount: number) => y(amount) };
  const isLong = last - first >= BAND_FROM_DAYS;
  const names = data.ways.map((way) => way.name).join(", ");
  return (
    <figure aria-label={`Balances over each other: ${names}`} className="my-2" ref={ref}>
      {width > 0 && (
        <svg width={width} height={HEIGHT} aria-hidden="true" className="block">
          <TimeAxis from={data.today} until={data.until} x={scales.x} y={HEIGHT - AXIS} width={width} />
          <line x1="0" x2={width} y1={y(0)} y2={y(0)} stroke="var(--rule-strong)" />
          {isLong && (
            <text x={width - 4} y={HEIGHT - AXIS - 8} textAnchor="end" fontSize="13" fill="var(--pencil)">
              each month's lowest
            </text>
          )}
          {data.ways.map((way, place) => (
            <path
              key={way.id}
              data-testid="way"
              d={isLong ? lowsPath(monthRanges(way.levels, last), scales) : stepPath(way.levels, last, scales)}
              fill="none"
              {...lookOf(place)}
            />
          ))}
          <text
            x="2"
            y={y(0) - 4}
            fontSize="13"
            fill="var(--pencil)"
            stroke="var(--paper)"
            strokeWidth="4"
            paintOrder="stroke"
          >
            {money(0, data.currency)}
          </text>
        </svg>
      )}
    </figure>
  );
}
