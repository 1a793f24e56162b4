/** Rhythms as one picks them part by part. What rule each comes to, and which rule is one, the app says. */
import type { Schemas } from "@/shared/api/client";

export type Rhythm = Schemas["Rhythm"];
export type Unit = Rhythm["unit"];

/** A rule of a form: as it was picked, or as the plan has it. */
export type Rule = string | Rhythm;

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
export function rhythmFrom(day: string, unit: Unit = "MONTHLY", every = 1): Rhythm {
  const date = new Date(`${day}T00:00:00Z`);
  const weekday = WEEKDAYS[(date.getUTCDay() + 6) % 7]?.value ?? "MO";
  return {
    unit,
    every,
    weekdays: [weekday],
    within: "days",
    month_days: [date.getUTCDate()],
    place: 1,
    place_day: weekday,
    months: [date.getUTCMonth() + 1],
  };
}

/** What a start presets of a rhythm, until it is chosen by hand. */
const PRESETS = ["weekdays", "month_days", "months", "place_day"] as const;
export type Preset = (typeof PRESETS)[number];

/** Nothing of a rule that is kept already is preset. */
export const ALL_CHOSEN: Preset[] = [...PRESETS];

/** A rule that is to begin on a day: what is preset follows that day, what was chosen stays. */
export function begunOn(rule: Rule, start: string, chosen: readonly Preset[]): Rule {
  if (typeof rule === "string") return rule;
  const fresh = rhythmFrom(start, rule.unit);
  const preset = PRESETS.filter((part) => !chosen.includes(part)).map((part) => [part, fresh[part]]);
  return { ...rule, ...Object.fromEntries(preset) };
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

export function usualRhythm(usual: string, start: string): Rhythm {
  const [unit = "MONTHLY", every = "1"] = usual.split("/");
  return rhythmFrom(start, unit as Unit, Number(every));
}

/** The usual rhythm that a flow's only rule is; null where it is another. While no start is typed, any day may be meant. */
export function usualOf(rules: readonly Rule[], start: string): string | null {
  const [rule, more] = rules;
  if (rule === undefined || more !== undefined || typeof rule === "string") return null;
  const usual = USUAL.find(({ value }) => value === `${rule.unit}/${rule.every}`)?.value ?? null;
  return usual !== null && (!start || isSame(rule, usualRhythm(usual, start))) ? usual : null;
}

/** Whether two rhythms of one unit and gap are on the same days. */
function isSame(one: Rhythm, other: Rhythm): boolean {
  const says = (rhythm: Rhythm) => {
    if (rhythm.unit === "WEEKLY") return rhythm.weekdays;
    const within = rhythm.within === "days" ? rhythm.month_days : [rhythm.place, rhythm.place_day];
    return [rhythm.within, ...within, ...(rhythm.unit === "YEARLY" ? rhythm.months : [])];
  };
  return says(one).join() === says(other).join();
}
