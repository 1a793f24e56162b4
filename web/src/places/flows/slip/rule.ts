/** Between an RFC 5545 rule and the picker's parts. The rule's meaning is the core's; this only writes and reads it. */

export type Unit = "DAILY" | "WEEKLY" | "MONTHLY" | "YEARLY";

export interface Rhythm {
  unit: Unit;
  every: string;
  weekdays: string[];
  /** "days": days of the month; "weekday": the n-th weekday. */
  within: "days" | "weekday";
  monthDays: string[];
  place: string;
  placeDay: string;
  months: string[];
}

export const WEEKDAYS = [
  { value: "MO", label: "Mon", name: "Monday" },
  { value: "TU", label: "Tue", name: "Tuesday" },
  { value: "WE", label: "Wed", name: "Wednesday" },
  { value: "TH", label: "Thu", name: "Thursday" },
  { value: "FR", label: "Fri", name: "Friday" },
  { value: "SA", label: "Sat", name: "Saturday" },
  { value: "SU", label: "Sun", name: "Sunday" },
] as const;

export const PLACES = [
  { value: "1", label: "first" },
  { value: "2", label: "second" },
  { value: "3", label: "third" },
  { value: "4", label: "fourth" },
  { value: "-1", label: "last" },
] as const;

const MONTH_NAMES = ["Jan", "Feb", "Mar", "Apr", "May", "Jun", "Jul", "Aug", "Sep", "Oct", "Nov", "Dec"];
export const MONTHS = MONTH_NAMES.map((label, index) => ({ value: String(index + 1), label }));

/** A rhythm that begins on a day: monthly on that day of the month, and that weekday where weeks are chosen. */
export function rhythmFrom(day: string, unit: Unit = "MONTHLY"): Rhythm {
  const date = new Date(`${day}T00:00:00Z`);
  const weekday = WEEKDAYS[(date.getUTCDay() + 6) % 7]?.value ?? "MO";
  return {
    unit,
    every: "1",
    weekdays: [weekday],
    within: "days",
    monthDays: [String(date.getUTCDate())],
    place: "1",
    placeDay: weekday,
    months: [String(date.getUTCMonth() + 1)],
  };
}

/** What a start presets of a rhythm, until it is chosen by hand. */
const PRESETS = ["weekdays", "monthDays", "months", "placeDay"] as const;
export type Preset = (typeof PRESETS)[number];

/** Nothing of a rule that is kept already is preset. */
export const ALL_CHOSEN: Preset[] = [...PRESETS];

/** A rule that is to begin on a day: what is preset follows that day, what was chosen stays. */
export function begunOn(rule: string, start: string, chosen: readonly Preset[]): string {
  const rhythm = readRule(rule, start);
  if (!rhythm) return rule;
  const fresh = rhythmFrom(start, rhythm.unit);
  for (const part of PRESETS) if (!chosen.includes(part)) Object.assign(rhythm, { [part]: fresh[part] });
  return writeRule(rhythm);
}

/** The rhythms that most things have, each from the day on which it first happens. */
export const USUAL = [
  { value: "WEEKLY/1", label: "every week" },
  { value: "WEEKLY/2", label: "every 2 weeks" },
  { value: "MONTHLY/1", label: "every month" },
  { value: "MONTHLY/3", label: "every quarter" },
  { value: "MONTHLY/6", label: "every half year" },
  { value: "YEARLY/1", label: "every year" },
] as const;

export function usualRule(usual: string, start: string): string {
  const [unit = "MONTHLY", every = "1"] = usual.split("/");
  return writeRule({ ...rhythmFrom(start, unit as Unit), every });
}

/** The usual rhythm that a flow's only rule is; null where it is another. While no start is typed, any day may be meant. */
export function usualOf(rules: readonly string[], start: string): string | null {
  const [rule, more] = rules;
  if (rule === undefined || more !== undefined) return null;
  if (start) return USUAL.find(({ value }) => usualRule(value, start) === rule)?.value ?? null;
  const rhythm = readRule(rule, "2027-01-01");
  return USUAL.find(({ value }) => rhythm && value === `${rhythm.unit}/${rhythm.every}`)?.value ?? null;
}

export function writeRule(rhythm: Rhythm): string {
  const parts = [`FREQ=${rhythm.unit}`];
  if (rhythm.every !== "1") parts.push(`INTERVAL=${rhythm.every || "0"}`);
  if (rhythm.unit === "WEEKLY") parts.push(`BYDAY=${inOrder(rhythm.weekdays).join(",")}`);
  if (rhythm.unit === "YEARLY") parts.push(`BYMONTH=${rhythm.months.join(",")}`);
  if (rhythm.unit === "MONTHLY" || rhythm.unit === "YEARLY")
    parts.push(
      rhythm.within === "days" ? `BYMONTHDAY=${rhythm.monthDays.join(",")}` : `BYDAY=${rhythm.place}${rhythm.placeDay}`,
    );
  return parts.filter((part) => !part.endsWith("=")).join(";");
}

function inOrder(weekdays: string[]): string[] {
  return WEEKDAYS.map((day) => day.value).filter((day) => weekdays.includes(day));
}

const READABLE = new Set(["FREQ", "INTERVAL", "BYDAY", "BYMONTHDAY", "BYMONTH"]);

/** The rhythm of a rule, where the picker can show it whole; null for rules that only the sentence shows. */
export function readRule(rule: string, start: string): Rhythm | null {
  const parts = new Map(rule.split(";").map((part) => part.split("=") as [string, string]));
  const unit = parts.get("FREQ") as Unit;
  if ([...parts.keys()].some((name) => !READABLE.has(name))) return null;
  const rhythm = { ...rhythmFrom(start, unit), every: parts.get("INTERVAL") ?? "1" };
  const days = parts.get("BYDAY")?.split(",");
  const monthDays = parts.get("BYMONTHDAY")?.split(",");
  const months = parts.get("BYMONTH")?.split(",");
  if (unit === "DAILY") return days || monthDays || months ? null : rhythm;
  if (unit === "WEEKLY") return monthDays || months ? null : { ...rhythm, weekdays: days ?? rhythm.weekdays };
  if ((unit === "MONTHLY" && months) || (days && monthDays)) return null;
  const withMonths = { ...rhythm, months: months ?? rhythm.months };
  if (unit === "YEARLY" && !months && (days || monthDays)) return null;
  if (!days) return { ...withMonths, monthDays: monthDays ?? rhythm.monthDays };
  const nth = days.length === 1 && days[0]?.match(/^([1-4]|-1)([A-Z]{2})$/);
  return nth ? { ...withMonths, within: "weekday", place: nth[1] ?? "1", placeDay: nth[2] ?? "MO" } : null;
}
