/** How the flow slip's fields become the fields of a plan's flow, and what of them is said. */

import type { ChangeRequest } from "@/shared/api/client";
import { amountIn, amountOr, type Fields, readFields } from "@/shared/fields";
import { sentDecimal } from "@/shared/format";
import { z } from "@/shared/zod";
import { type FlowForm, type OwnDate, timingOf } from "./flowForm";

type Values = Record<string, unknown>;

/** The amounts of a flow's own dates, by day. */
function readDates(dates: OwnDate[], currency: string): Fields<Map<string, number>> {
  const read = readFields(
    z.object({ dates: z.array(z.object({ day: z.string(), amount: amountOr(null, currency) })) }),
    { dates: dates.filter(({ day }) => day) },
  );
  if ("problems" in read) return read;
  return {
    value: new Map(read.value.dates.flatMap(({ day, amount }) => (amount === null ? [] : [[day, amount] as const]))),
  };
}

/** The amounts that are typed into a flow's fields. */
const amountsOf = (form: FlowForm, currency: string) =>
  readFields(
    z.object({
      amount: z.nullable(amountIn(currency)),
      rate: z.nullable(amountIn(currency)),
      seasonal: z.array(amountOr(null, currency)),
      splits: z.array(
        z.object({ amount: amountIn(currency), goes: z.string().check(z.minLength(1, "Say where the part goes.")) }),
      ),
      dates: z.array(z.object({ amount: amountOr(null, currency) })),
    }),
    {
      amount: form.by_the_hour ? null : form.amount,
      rate: form.by_the_hour ? form.rate : null,
      seasonal: form.seasonal,
      splits: form.splits,
      dates: form.dates.filter(({ day }) => day),
    },
  );

const splitOf = ({ amount, goes }: { amount: number; goes: string }) => {
  const [kind = "", ...id] = goes.split(":");
  return { amount, [kind]: id.join(":") };
};

/** The fields to set; or what cannot be read yet. */
export function readForm(form: FlowForm, currency: string): Fields<Values> {
  const read = amountsOf(form, currency);
  if ("problems" in read) return read;
  const { amount, rate, seasonal, splits } = read.value;
  return {
    value: {
      estimate: form.estimate,
      subscription: form.subscription,
      last_paid: form.last_paid || null,
      follows: form.estimate ? Number(form.follows) : 0,
      always_happens: form.always_happens,
      hourly:
        rate === null ? null : { rate, share: sentDecimal(form.share || "100"), hours: sentDecimal(form.hours || "0") },
      remind_days: Number(form.remind_days || "0"),
      alarm_days: form.alarm_days.trim() ? Number(form.alarm_days) : null,
      late_days: Number(form.late_days || "0"),
      may_skip: form.may_skip,
      may_pause: form.may_pause,
      property: form.property || null,
      purpose: (form.property && form.purpose) || null,
      growth: form.growth.trim() ? { percent: sentDecimal(form.growth), from: form.growth_from } : null,
      seasonal: Object.fromEntries(
        seasonal.flatMap((amount, month) => (amount === null ? [] : [[String(month + 1), amount]])),
      ),
      splits: splits.map(splitOf),
      ...timingOf(form),
      kind: form.kind,
      name: form.name.trim(),
      amount: amount ?? 0,
      from_account: form.kind === "income" ? null : form.from_account || null,
      to_account: form.kind === "bill" ? null : form.to_account || null,
      category: form.category || null,
      payee: form.payee.trim(),
      notes: form.notes,
    },
  };
}

/** What of some fields a person made another than it was; what nobody touched is not said. */
export function touched(value: Values, before: Values): Values {
  const isSame = (name: string) => JSON.stringify(value[name]) === JSON.stringify(before[name]);
  return Object.fromEntries(Object.entries(value).filter(([name]) => !isSame(name)));
}

/** What is said to the app of a flow that there is: from a day on, or as if it had always been so. */
export function flowChanges(form: FlowForm, initial: FlowForm, id: string, currency: string, value: Values) {
  const said: ChangeRequest = { kind: "flow", id, ...flowChange(form, initial, currency, value) };
  return [said, ...dateChanges(form, initial, id, currency)];
}

function flowChange(form: FlowForm, initial: FlowForm, currency: string, value: Values) {
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
  if (!now || !before || "problems" in now || "problems" in before) return [];
  const days = new Set(form.dates.map(({ day }) => day));
  const changed = [...new Set([...before.value.keys(), ...now.value.keys()])].filter(
    (day) => now.value.get(day) !== before.value.get(day),
  );
  return changed.sort().map((nominal) => {
    const value = days.has(nominal) ? { amount: now.value.get(nominal) ?? null } : null;
    return { op: "once", kind: "flow", id, nominal, value };
  });
}
