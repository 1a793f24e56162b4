/** The flow slip's fields, and how they become the fields of a plan's flow. */
import type { ChangeRequest, Flow, Schemas } from "@/shared/api/client";
import { digits, readAmount } from "@/shared/format";
import { rhythmFrom, writeRule } from "./rule";

/** The kinds that are made by hand: a loan makes its payments itself. */
export type Kind = Exclude<Flow["kind"], "loan_payment">;
export type End = "never" | "until" | "count";

export interface SplitForm {
  amount: string;
  /** `account:ID` or `category:ID`. */
  goes: string;
}

/** A date of its own, and its amount where that is not the flow's. */
export interface OwnDate {
  day: string;
  amount: string;
}

export interface FlowForm {
  kind: Kind;
  name: string;
  amount: string;
  from_account: string;
  to_account: string;
  category: string;
  payee: string;
  repeats: "rules" | "dates";
  rules: string[];
  dates: OwnDate[];
  except: string[];
  start: string;
  ends: End;
  until: string;
  count: string;
  roll: NonNullable<Flow["roll"]>;
  notes: string;
  estimate: boolean;
  subscription: boolean;
  remind_days: string;
  late_days: string;
  may_skip: boolean;
  may_pause: boolean;
  property: string;
  purpose: "" | "tax" | "insurance" | "upkeep" | "rent";
  growth: string;
  growth_from: string;
  /** Twelve amounts, empty where the month has none of its own. */
  seasonal: string[];
  splits: SplitForm[];
  /** How many settled the expected amount follows; "0" for none. */
  follows: string;
  always_happens: boolean;
  /** Pay by the hour, in place of an amount. */
  by_the_hour: boolean;
  rate: string;
  share: string;
  hours: string;
  /** Since when another amount or rhythm holds: from a day on, or as if it had always been so. */
  holds: "from" | "always";
  since: string;
  /** Which changed dates and later changes are to be as planned again. */
  taken_back: string[];
}

export function emptyForm(kind: Kind, account: string, today: string): FlowForm {
  return {
    kind,
    name: "",
    amount: "",
    from_account: kind === "income" ? "" : account,
    to_account: kind === "income" ? account : "",
    category: "",
    payee: "",
    repeats: "rules",
    rules: [writeRule(rhythmFrom(today))],
    dates: [],
    except: [],
    start: today,
    ends: "never",
    until: "",
    count: "",
    roll: kind === "income" ? "before" : "none",
    notes: "",
    estimate: false,
    subscription: false,
    remind_days: "3",
    late_days: "0",
    may_skip: false,
    may_pause: false,
    property: "",
    purpose: "",
    growth: "",
    growth_from: today,
    seasonal: Array(12).fill(""),
    splits: [],
    follows: "0",
    always_happens: false,
    by_the_hour: false,
    rate: "",
    share: "100",
    hours: "",
    holds: "always",
    since: today,
    taken_back: [],
  };
}

/** The form of a new flow as recorded entries suggest it. */
export function formOfCandidate(seen: Schemas["CandidateModel"], today: string): FlowForm {
  return {
    ...emptyForm(seen.kind, seen.account, today),
    name: seen.payee,
    payee: seen.payee,
    amount: digits(seen.amount, seen.currency),
    category: seen.category ?? "",
    rules: [seen.rule],
    start: seen.first,
    roll: "none",
    estimate: seen.is_estimate,
    follows: seen.is_estimate ? "3" : "0",
  };
}

/** The form of a flow as it is today. What began before today changes from today on, unless told otherwise. */
export function formOf(row: Schemas["FlowRow"], today: string): FlowForm {
  const { flow, currency, amount_now, rules_now, hourly_now } = row;
  return {
    kind: flow.kind === "loan_payment" ? "bill" : flow.kind,
    name: flow.name,
    amount: digits(amount_now, currency),
    from_account: row.from_account_now ?? "",
    to_account: row.to_account_now ?? "",
    category: row.category_now ?? "",
    payee: flow.payee ?? "",
    repeats: rules_now.length ? "rules" : "dates",
    rules: rules_now.length ? [...rules_now] : [writeRule(rhythmFrom(today))],
    dates: (flow.dates ?? []).map((day) => {
      const own = flow.changes?.find((change) => change.nominal === day)?.amount;
      return { day, amount: own == null ? "" : digits(own, currency) };
    }),
    except: [...(flow.except ?? [])],
    start: flow.start ?? "",
    ends: flow.until ? "until" : flow.count ? "count" : "never",
    until: flow.until ?? "",
    count: flow.count ? String(flow.count) : "",
    roll: flow.roll ?? "none",
    notes: flow.notes ?? "",
    estimate: flow.estimate ?? false,
    subscription: flow.subscription ?? false,
    remind_days: String(flow.remind_days ?? 3),
    late_days: String(flow.late_days ?? 0),
    may_skip: flow.may_skip ?? false,
    may_pause: flow.may_pause ?? false,
    property: flow.property ?? "",
    purpose: flow.purpose ?? "",
    growth: flow.growth ? String(flow.growth.percent) : "",
    growth_from: flow.growth?.from ?? today,
    seasonal: Array.from({ length: 12 }, (_, month) => {
      const amount = flow.seasonal?.[String(month + 1)];
      return amount === undefined ? "" : digits(amount, currency);
    }),
    splits: (flow.splits ?? []).map((split) => ({
      amount: digits(split.amount, currency),
      goes: split.account ? `account:${split.account}` : `category:${split.category}`,
    })),
    follows: String(flow.follows ?? 0),
    always_happens: flow.always_happens ?? false,
    by_the_hour: Boolean(hourly_now),
    rate: hourly_now ? digits(hourly_now.rate, currency) : "",
    share: hourly_now ? String(hourly_now.share) : "100",
    hours: hourly_now ? String(hourly_now.hours) : "",
    holds: (flow.start ?? "") < today && rules_now.length ? "from" : "always",
    since: today,
    taken_back: [],
  };
}

/** When it happens, as the plan has it. An empty date is left for the app to refuse. */
export function timingOf(form: FlowForm) {
  const isRepeating = form.repeats === "rules";
  const listed = (days: string[]) => [...new Set(days.filter(Boolean))].sort();
  return {
    rules: isRepeating ? form.rules : [],
    dates: listed(form.dates.map(({ day }) => day)),
    except: isRepeating ? listed(form.except) : [],
    start: form.start || null,
    until: form.ends === "until" && form.until ? form.until : null,
    count: form.ends === "count" && form.count ? Number(form.count) : null,
    roll: form.roll,
  };
}

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
      ? { rate: rate.amount, share: form.share.trim() || "100", hours: form.hours.trim() || "0" }
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
      follows: form.estimate ? Number(form.follows) : 0,
      always_happens: form.always_happens,
      hourly,
      remind_days: Number(form.remind_days || "0"),
      late_days: Number(form.late_days || "0"),
      may_skip: form.may_skip,
      may_pause: form.may_pause,
      property: form.property || null,
      purpose: (form.property && form.purpose) || null,
      growth: form.growth.trim() ? { percent: form.growth.trim(), from: form.growth_from } : null,
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
  const [now, before] = [form, initial].map((each) => readDates(each?.dates ?? [], currency));
  if (!now || !before || typeof now === "string" || typeof before === "string") return [];
  const days = new Set(form.dates.map(({ day }) => day));
  const changed = [...new Set([...Object.keys(before), ...Object.keys(now)])].filter((day) => now[day] !== before[day]);
  return changed.sort().map((nominal) => {
    const value = days.has(nominal) ? { amount: now[nominal] ?? null } : null;
    return { op: "once", kind: "flow", id, nominal, value };
  });
}
