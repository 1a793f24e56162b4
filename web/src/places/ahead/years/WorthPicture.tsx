import { type PointerEvent, useState } from "react";
import type { Schemas } from "@/shared/api/client";
import { linear } from "@/shared/charts/linear";
import { TimeAxis } from "@/shared/charts/TimeAxis";
import { useWidth } from "@/shared/charts/useWidth";
import { dayNumber, dayText, money } from "@/shared/format";

type Worth = Schemas["NetWorthAnswer"];

const HEIGHT = 250;
const AXIS = 22;
const TOP = 14;
const LABELS = 104;
const LINE_OF_TEXT = 16;
const LINES = [
  { of: "owned", name: "Owned", width: 1.3 },
  { of: "owed", name: "Owed", width: 1.3 },
  { of: "together", name: "Net worth", width: 2.6 },
] as const;

/** What is owned, what is owed and the difference as lines, ink to today and pencil after it; a day read by pointing. */
export function WorthPicture({ worth }: { worth: Worth }) {
  const [ref, width] = useWidth<HTMLDivElement>();
  const [pointed, setPointed] = useState<number | null>(null);
  const { days, today } = worth;
  const scales = scalesOf(worth, width - LABELS);
  const onMove = (event: PointerEvent<HTMLDivElement>) => {
    const at = scales.x.invert(event.clientX - event.currentTarget.getBoundingClientRect().left);
    const distance = (place: number) => Math.abs(dayNumber(days[place] ?? "") - at);
    setPointed(days.reduce((best, _, place) => (distance(place) < distance(best) ? place : best), 0));
  };
  const shown = pointed ?? Math.max(0, days.indexOf(today));
  return (
    <figure aria-label={`Net worth, ${said(worth, shown)}`} className="my-2">
      <Figures worth={worth} place={shown} />
      <div ref={ref} onPointerMove={onMove} onPointerLeave={() => setPointed(null)} className="cursor-crosshair">
        {width > LABELS && <Lines worth={worth} scales={scales} width={width} shown={shown} />}
      </div>
    </figure>
  );
}

const said = (worth: Worth, place: number) =>
  `${money(worth.together[place] ?? 0, worth.currency)} on ${dayText(worth.days[place] ?? worth.today, worth.today)}`;

function scalesOf({ days, owned, owed, together, today }: Worth, width: number) {
  const from = days[0] ?? today;
  const until = days.at(-1) ?? today;
  const all = [...owned, ...owed, ...together];
  const low = Math.min(...all);
  const x = linear({
    domain: [dayNumber(from), Math.max(dayNumber(until), dayNumber(from) + 1)],
    range: [0, Math.max(1, width)],
  });
  const y = linear({ domain: [low, Math.max(...all, low + 1)], range: [HEIGHT - AXIS - 8, TOP] });
  return { from, until, low, x, y };
}

/** The day pointed at, or today, in figures. */
function Figures({ worth, place }: { worth: Worth; place: number }) {
  const { days, today, currency } = worth;
  const day = days[place] ?? today;
  return (
    <p aria-live="polite" className="min-h-8">
      <span className="font-display text-xl">{money(worth.together[place] ?? 0, currency)}</span>{" "}
      <span className={day > today ? "pencilled" : "text-pencil"}>
        {day === today ? "today" : `on ${dayText(day, today)}`}: {money(worth.owned[place] ?? 0, currency)} owned,{" "}
        {money(worth.owed[place] ?? 0, currency)} owed
      </span>
    </p>
  );
}

interface LinesProps {
  worth: Worth;
  scales: ReturnType<typeof scalesOf>;
  width: number;
  shown: number;
}

function Lines({ worth, scales, width, shown }: LinesProps) {
  const { days, today } = worth;
  const { x, y, low } = scales;
  const path = (amounts: number[], keep: (day: string) => boolean) => {
    const points = days.flatMap((day, place) =>
      keep(day) ? [`${x(dayNumber(day)).toFixed(1)} ${y(amounts[place] ?? 0).toFixed(1)}`] : [],
    );
    return points.length > 1 ? `M${points.join("L")}` : "";
  };
  const labels = apart(LINES.map(({ of, name }) => ({ name, y: y(worth[of].at(-1) ?? 0) })));
  return (
    <svg width={width} height={HEIGHT} aria-hidden="true" className="block">
      <TimeAxis
        from={scales.from}
        until={scales.until}
        x={(day) => x(day)}
        y={HEIGHT - AXIS}
        width={Math.max(1, width - LABELS)}
      />
      {low <= 0 && <line x1="0" x2={width - LABELS} y1={y(0)} y2={y(0)} stroke="var(--rule-strong)" />}
      {LINES.map(({ of, width: stroke }) => (
        <g key={of} fill="none" stroke="var(--ink)" strokeWidth={stroke}>
          <path d={path(worth[of], (day) => day <= today)} />
          <path d={path(worth[of], (day) => day >= today)} strokeDasharray="5 3.5" />
          <circle
            cx={x(dayNumber(days[shown] ?? today))}
            cy={y(worth[of][shown] ?? 0)}
            r="3.5"
            fill="var(--copper)"
            stroke="none"
          />
        </g>
      ))}
      {labels.map((label) => (
        <text key={label.name} x={width - LABELS + 8} y={label.y + 5} fontSize="14" fill="var(--ink)">
          {label.name}
        </text>
      ))}
    </svg>
  );
}

/** Labels in their order, moved down where they would stand upon each other, and up again from the picture's end. */
function apart(labels: { name: string; y: number }[]) {
  const placed = [...labels].sort((one, other) => one.y - other.y);
  placed.forEach((label, at) => {
    const above = placed[at - 1];
    if (above) label.y = Math.max(label.y, above.y + LINE_OF_TEXT);
  });
  placed.reverse().forEach((label, at) => {
    const below = placed[at - 1];
    label.y = Math.min(label.y, below ? below.y - LINE_OF_TEXT : HEIGHT - AXIS - 8);
  });
  return placed;
}
