/** A balance over months: how low and how high it went in each. */
import { addMonths, startOfMonth } from "date-fns";
import { civil, dayNumber, iso } from "@/shared/format";
import type { Level, Scales } from "./steps";

export interface MonthRange {
  /** Day numbers: the first of the month's that are drawn, and the day after its last. */
  from: number;
  to: number;
  low: number;
  high: number;
}

// From so many days on, a month is a band: single days would be a thicket.
export const BAND_FROM_DAYS = 700;

/** Each month's lowest and highest balance from a day number until another. */
export function monthRanges(levels: readonly (readonly (string | number)[])[], until: number): MonthRange[] {
  const first = levels[0];
  if (!first) return [];
  const oneMonthRanges: MonthRange[] = [];
  let at = 0;
  let balance = first[1] as number;
  let month = startOfMonth(civil(first[0] as string));
  for (let from = dayNumber(first[0] as string); from < until; ) {
    month = addMonths(month, 1);
    const to = Math.min(until, dayNumber(iso(month)));
    // What is held from the month before counts, unless it changes on the first day.
    const begins = levels[at] && dayNumber((levels[at] as Level)[0]) <= from;
    let low = begins ? Number.POSITIVE_INFINITY : balance;
    let high = begins ? Number.NEGATIVE_INFINITY : balance;
    while (at < levels.length && dayNumber((levels[at] as Level)[0]) < to) {
      balance = (levels[at] as Level)[1];
      low = Math.min(low, balance);
      high = Math.max(high, balance);
      at += 1;
    }
    oneMonthRanges.push({ from, to, low, high });
    from = to;
  }
  return oneMonthRanges;
}

/** The line of the months' lows. */
export function lowsPath(ranges: MonthRange[], { x, y }: Scales): string {
  let path = "";
  for (const { from, to, low } of ranges) {
    const up = y(low).toFixed(1);
    path += path ? `V${up}H${x(to).toFixed(1)}` : `M${x(from).toFixed(1)} ${up}H${x(to).toFixed(1)}`;
  }
  return path;
}
