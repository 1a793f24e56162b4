/** How the flow slip's fields become the fields of a plan's flow, and what of them is said. */
import type { ChangeRequest } from "@/shared/api/client";
import { readAmount, sentDecimal } from "@/shared/format";
import { type FlowForm, type OwnDate, type SplitForm, timingOf } from "./flowForm";

type Fields = Record<string, unknown>;
type ReadFlow = { value: Fields } | { field?: string; problem: string };

/** Amounts by month number; or what is wrong with one of them. */
function readSeasons(seasonal: string[], currency: string): Record<string, number> | string {
  const amounts: Record<string, number> = {};
  for (const [month, text] of seasonal.entries()) {
    if (!text.trim()) continue;
    const read = readAmount(text, currency);
    if ("problem" in read) return read.problem;
    amounts[String(month + 1)] = read.amount;
  }
  return amounts;
}

/** Parts as the plan has them; or what is wrong with one of them. */
function readSplits(splits: SplitForm[], currency: string): object[] | string {
  const parts: object[] = [];
  for (const split of splits) {
    const read = readAmount(split.amount, currency);
    if ("problem" in read) return read.problem;
    const [kind, ...id] = split.goes.split(":");
    if (!kind) return "Say where the part goes.";
    parts.push({ amount: read.amount, [kind]: id.join(":") });
  }
  return parts;
}

/** The amounts of a flow's own dates, by day; or what is wrong with one of them. */
function readDates(dates: OwnDate[], currency: string): Record<string, number> | string {
  const amounts: Record<string, number> = {};
  for (const { day, amount } of dates) {
    if (!day || !amount.trim()) continue;
    const read = readAmount(amount, currency);
    if ("problem" in read) return read.problem;
    amounts[day] = read.amount;
  }
  return amounts;
}

/** The fields to set; or the problem of the one field that cannot be read yet. */
export function readForm(form: FlowForm, currency: string): ReadFlow {
  const read = form.by_the_hour ? { amount: 0 } : readAmount(form.amount, currency);
  if ("problem" in read) return read;
  const rate = readAmount(form.rate, currency);
  if (form.by_the_hour && "problem" in rate) return { field: "rate", problem: rate.problem };
  const hourly =
    form.by_the_hour && "amount" in rate
      ? { rate: rate.amount, share: sentDecimal(form.share || "100"), hours: sentDecimal(form.hours || "0") }
      : null;
  const seasonal = readSeasons(form.seasonal, currency);
  if (typeof seasonal === "string") return { field: "seasonal", problem: seasonal };
  const own = readDates(form.dates, currency);
  if (typeof own === "string") return { field: "dates", problem: own };
  const splits = readSplits(form.splits, currency);
  if (typeof splits === "string") return { field: "splits", problem: splits };
  return {
    value: {
      estimate: form.estimate,
      subscription: form.subscription,
      last_paid: form.last_paid || null,
      follows: form.estimate ? Number(form.follows) : 0,
      always_happens: form.always_happens,
      hourly,
      remind_days: Number(form.remind_days || "0"),
      alarm_days: form.alarm_days.trim() ? Number(form.alarm_days) : null,
      late_days: Number(form.late_days || "0"),
      may_skip: form.may_skip,
      may_pause: form.may_pause,
      property: form.property || null,
      purpose: (form.property && form.purpose) || null,
      growth: form.growth.trim() ? { percent: sentDecimal(form.growth), from: form.growth_from } : null,
      seasonal,
      splits,
      ...timingOf(form),
      kind: form.kind,
      name: form.name.trim(),
      amount: read.amount,
      from_account: form.kind === "income" ? null : form.from_account || null,
      to_account: form.kind === "bill" ? null : form.to_account || null,
      category: form.category || null,
      payee: form.payee.trim(),
      notes: form.notes,
    },
  };
}

/** What of some fields a person made another than it was; what nobody touched is not said. */
export function touched(value: Fields, before: Fields): Fields {
  const isSame = (name: string) => JSON.stringify(value[name]) === JSON.stringify(before[name]);
  return Object.fromEntries(Object.entries(value).filter(([name]) => !isSame(name)));
}

/** What is said to the app of a flow that there is: from a day on, or as if it had always been so. */
export function flowChanges(form: FlowForm, initial: FlowForm, id: string, currency: string, value: Fields) {
  const said: ChangeRequest = { kind: "flow", id, ...flowChange(form, initial, currency, value) };
  return [said, ...dateChanges(form, initial, id, currency)];
}

function flowChange(form: FlowForm, initial: FlowForm, currency: string, value: Fields) {
  // Another kind, or dates in place of a rhythm, is another plan altogether: it has no day from which it holds.
  const isAnother = form.kind !== initial.kind || form.repeats !== initial.repeats;
  if (isAnother) return { op: "update" as const, value };
  const before = readForm(initial, currency);
  const said = touched(value, "value" in before ? before.value : {});
  const from = form.holds === "from" && form.repeats === "rules" ? form.since : null;
  return { op: "revise" as const, value: said, from };
}

/** Amounts of its own dates that became others; a date that went takes its amount along. */
export function dateChanges(form: FlowForm, initial: FlowForm | null, id: string, currency: string): ChangeRequest[] {
  const [now, before] = [form, initial].map((flowForm) => readDates(flowForm?.dates ?? [], currency));
  if (!now || !before || typeof now === "string" || typeof before === "string") return [];
  const days = new Set(form.dates.map(({ day }) => day));
  const changed = [...new Set([...Object.keys(before), ...Object.keys(now)])].filter((day) => now[day] !== before[day]);
  return changed.sort().map((nominal) => {
    const value = days.has(nominal) ? { amount: now[nominal] ?? null } : null;
    return { op: "once", kind: "flow", id, nominal, value };
  });
}
