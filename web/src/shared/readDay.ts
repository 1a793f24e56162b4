import { addYears, isValid, parse } from "date-fns";
import { isDayBeforeMonth, iso } from "./format";

const DAY_FIRST = ["d/M/y", "d.M.y", "d-M-y"];
const MONTH_FIRST = ["M/d/y", "M.d.y", "M-d-y"];
const YEAR_FIRST = ["y-M-d", "y/M/d"];
const NAMED = ["d MMM y", "d MMMM y", "MMM d y", "MMMM d y"];

/** A date as people write it, in the household's order, as `2027-03-18`; null where it is none. */
export function readDay(text: string): string | null {
  const plain = text.replace(/^(mon|tue|wed|thu|fri|sat|sun)[a-z]*\.?,?\s+/i, "").replace(/,/g, "");
  // Only four digits are a year that stands first: 3/4/27 is none.
  const numbers = /^\d{4}/.test(plain) ? YEAR_FIRST : isDayBeforeMonth() ? DAY_FIRST : MONTH_FIRST;
  for (const pattern of [...numbers, ...NAMED]) {
    const read = parse(plain, pattern, new Date(2000, 0, 1));
    if (!isValid(read)) continue;
    return iso(read.getFullYear() < 100 ? addYears(read, 2000) : read);
  }
  return null;
}
