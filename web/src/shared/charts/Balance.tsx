import type { Schemas } from "@/shared/api/client";
import { dayNumber } from "@/shared/format";
import { BAND_FROM_DAYS, lowsPath, type MonthRange, monthRanges } from "./months";
import { type Scales, stepPath } from "./steps";

type Line = Pick<Schemas["TidelineModel"], "ink" | "pencil">;

interface Props {
  line: Line;
  today: string;
  first: number;
  last: number;
  scales: Scales;
}

/** A balance in ink to today and pencil after; over years, each month's band with its lows as the line. */
export function Balance({ line, today, first, last, scales }: Props) {
  const now = dayNumber(today) + 1;
  if (last - first >= BAND_FROM_DAYS) return <Bands line={line} now={now} last={last} scales={scales} />;
  const leaving = { day: now, balance: line.ink.at(-1)?.[1] as number | undefined };
  return (
    <>
      <path data-testid="ink" d={stepPath(line.ink, now, scales)} {...INK} />
      <path data-testid="pencil" d={stepPath(line.pencil, last, scales, leaving)} {...PENCIL} />
    </>
  );
}

/** What would be, in copper, from today on. */
export function Copper({ line, today, first, last, scales }: Props) {
  const now = dayNumber(today) + 1;
  const leaving = { day: now, balance: line.ink.at(-1)?.[1] as number | undefined };
  const path =
    last - first >= BAND_FROM_DAYS
      ? lowsPath(monthRanges(line.pencil, last), scales)
      : stepPath(line.pencil, last, scales, leaving);
  return <path data-testid="copper" d={path} fill="none" stroke="var(--copper)" strokeWidth="2.2" />;
}

const INK = { fill: "none", stroke: "var(--ink)", strokeWidth: 2.2 };
const PENCIL = { fill: "none", stroke: "var(--ink)", strokeWidth: 1.7, strokeDasharray: "5 3.5" };

function Bands({ line, now, last, scales }: { line: Line; now: number; last: number; scales: Scales }) {
  const ink = monthRanges(line.ink, now);
  const pencil = monthRanges(line.pencil, last);
  return (
    <>
      <path data-testid="band" d={bandPath([...ink, ...pencil], scales)} fill="var(--ink)" opacity="0.14" />
      <path data-testid="ink" d={lowsPath(ink, scales)} {...INK} />
      <path data-testid="pencil" d={lowsPath(pencil, scales)} {...PENCIL} />
    </>
  );
}

function bandPath(ranges: MonthRange[], { x, y }: Scales): string {
  const at = (day: number, amount: number) => `${x(day).toFixed(1)} ${y(amount).toFixed(1)}`;
  return ranges
    .map(({ from, to, low, high }) => `M${at(from, low)}L${at(from, high)}L${at(to, high)}L${at(to, low)}Z`)
    .join("");
}
