import { type PointerEvent, useState } from "react";
import type { Schemas } from "@/shared/api/client";
import { linear } from "@/shared/charts/linear";
import { TimeAxis } from "@/shared/charts/TimeAxis";
import { useWidth } from "@/shared/charts/useWidth";
import { dayNumber, dayText, money } from "@/shared/format";

const HEIGHT = 230;
const AXIS = 22;
const TOP = 12;

/** Net worth as a line, ink to today and pencil after it; a point read by pointing. */
export function WorthPicture({ worth }: { worth: Schemas["NetWorthAnswer"] }) {
  const [ref, width] = useWidth<HTMLDivElement>();
  const [at, setAt] = useState<number | null>(null);
  const { days, together, today, currency } = worth;
  const from = days[0] ?? today;
  const until = days.at(-1) ?? today;
  const x = linear({
    domain: [dayNumber(from), Math.max(dayNumber(until), dayNumber(from) + 1)],
    range: [0, width],
  });
  const low = Math.min(0, ...together);
  const high = Math.max(0, ...together, low + 1);
  const y = linear({ domain: [low, high], range: [HEIGHT - AXIS - 6, TOP] });
  const points = days.map((day, place) => ({
    day,
    text: `${x(dayNumber(day)).toFixed(1)} ${y(together[place] ?? 0).toFixed(1)}`,
  }));
  const line = (part: typeof points) => (part.length > 1 ? `M${part.map(({ text }) => text).join("L")}` : "");
  const onMove = (event: PointerEvent<HTMLDivElement>) => {
    const pointed = x.invert(event.clientX - event.currentTarget.getBoundingClientRect().left);
    const distance = (place: number) => Math.abs(dayNumber(days[place] ?? "") - pointed);
    setAt(days.reduce((best, _, place) => (distance(place) < distance(best) ? place : best), 0));
  };
  const shown = at ?? Math.max(0, days.indexOf(today));
  const day = days[shown] ?? today;
  return (
    <figure
      aria-label={`Net worth, ${money(together[shown] ?? 0, currency)} on ${dayText(day, today)}`}
      className="my-2"
    >
      <p aria-live="polite" className="min-h-8 font-display text-xl">
        {money(together[shown] ?? 0, currency)}{" "}
        <span className={`font-sans text-base ${day > today ? "pencilled" : "text-pencil"}`}>
          {day === today ? "today" : `on ${dayText(day, today)}`}
        </span>
      </p>
      <div ref={ref} onPointerMove={onMove} onPointerLeave={() => setAt(null)} className="cursor-crosshair">
        {width > 0 && (
          <svg width={width} height={HEIGHT} aria-hidden="true" className="block">
            <TimeAxis from={from} until={until} x={(each) => x(each)} y={HEIGHT - AXIS} width={width} />
            <line x1="0" x2={width} y1={y(0)} y2={y(0)} stroke="var(--rule-strong)" />
            <path
              d={line(points.filter((each) => each.day <= today))}
              fill="none"
              stroke="var(--ink)"
              strokeWidth="2.2"
            />
            <path
              d={line(points.filter((each) => each.day >= today))}
              fill="none"
              stroke="var(--ink)"
              strokeWidth="1.7"
              strokeDasharray="5 3.5"
            />
            <circle cx={x(dayNumber(day))} cy={y(together[shown] ?? 0)} r="4" fill="var(--copper)" />
          </svg>
        )}
      </div>
    </figure>
  );
}
