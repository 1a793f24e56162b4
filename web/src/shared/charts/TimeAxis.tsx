import { addMonths, addWeeks, format, startOfMonth, startOfWeek, startOfYear } from "date-fns";
import { civil, dayNumber, iso, shortDay } from "@/shared/format";

interface Props {
  from: string;
  until: string;
  x: (day: number) => number;
  y: number;
  width: number;
}

/** Weeks, months or years along the bottom, as many as there is room for. */
export function TimeAxis({ from, until, x, y, width }: Props) {
  return (
    <g fontSize="13" fill="var(--pencil)">
      <line x1="0" x2={width} y1={y} y2={y} stroke="var(--rule)" />
      {ticks(from, until, width).map(({ day, label }) => (
        <g key={day} transform={`translate(${x(dayNumber(day)).toFixed(1)},${y})`}>
          <line y2="5" stroke="var(--rule-strong)" />
          {x(dayNumber(day)) < width - 46 && (
            <text x="4" y="15">
              {label}
            </text>
          )}
        </g>
      ))}
    </g>
  );
}

function ticks(from: string, until: string, width: number): { day: string; label: string }[] {
  const days = dayNumber(until) - dayNumber(from);
  const room = Math.max(2, Math.floor(width / 78));
  const monthTicks: { day: string; label: string }[] = [];
  const add = (day: Date, label: string) => {
    if (iso(day) >= from && iso(day) <= until) monthTicks.push({ day: iso(day), label });
  };
  if (days / 7 <= room) {
    for (let day = startOfWeek(civil(from), { weekStartsOn: 1 }); iso(day) <= until; day = addWeeks(day, 1))
      add(day, shortDay(iso(day)));
    return monthTicks;
  }
  const stride = [1, 2, 3, 6, 12, 24, 60].find((months) => days / 30.4 / months <= room) ?? 120;
  const begin = stride >= 12 ? startOfYear(civil(from)) : startOfMonth(civil(from));
  for (let day = begin; iso(day) <= until; day = addMonths(day, stride)) {
    const isJanuary = day.getMonth() === 0;
    add(day, format(day, isJanuary || stride >= 12 ? "yyyy" : "MMM"));
  }
  return monthTicks;
}
