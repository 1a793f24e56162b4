/** The flow slip's fields, and how they become the fields of a plan's flow. */
import type { Flow, Schemas } from "@/shared/api/client";
import { digits, readAmount } from "@/shared/format";
import { rhythmFrom, writeRule } from "./rule";

export type Kind = Flow["kind"];
export type End = "never" | "until" | "count";

export interface SplitForm {
  amount: string;
  /** `account:ID` or `category:ID`. */
  goes: string;
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
  dates: string[];
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
  growth: string;
  growth_from: string;
  /** Twelve amounts, empty where the month has none of its own. */
  seasonal: string[];
  splits: SplitForm[];
  /** Since when another amount or rhythm holds: from a day on, or as if it had always been so. */
  holds: "from" | "always";
  since: string;
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
    growth: "",
    growth_from: today,
    seasonal: Array(12).fill(""),
    splits: [],
    holds: "always",
    since: today,
  };
}

/** The form of a flow as it is today. What began before today changes from today on, unless told otherwise. */
export function formOf({ flow, currency, amount_now, rules_now }: Schemas["FlowRow"], today: string): FlowForm {
  return {
    kind: flow.kind,
    name: flow.name,
    amount: digits(amount_now, currency),
    from_account: flow.from_account ?? "",
    to_account: flow.to_account ?? "",
    category: flow.category ?? "",
    payee: flow.payee ?? "",
    repeats: rules_now.length ? "rules" : "dates",
    rules: rules_now.length ? [...rules_now] : [writeRule(rhythmFrom(today))],
    dates: [...(flow.dates ?? [])],
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
    holds: (flow.start ?? "") < today && rules_now.length ? "from" : "always",
    since: today,
  };
}

/** When it happens, as the plan has it. An empty date is left for the app to refuse. */
export function timingOf(form: FlowForm) {
  const isRepeating = form.repeats === "rules";
  const listed = (days: string[]) => [...new Set(days.filter(Boolean))].sort();
  return {
    rules: isRepeating ? form.rules : [],
    dates: listed(form.dates),
    except: isRepeating ? listed(form.except) : [],
    start: form.start || null,
    until: form.ends === "until" && form.until ? form.until : null,
    count: form.ends === "count" && form.count ? Number(form.count) : null,
    roll: form.roll,
  };
}

/** Whether the amount or the rhythm is another than the flow's: the changes that can hold from a day on. */
export function isRevised(form: FlowForm, initial: FlowForm): boolean {
  return form.amount !== initial.amount || form.rules.join() !== initial.rules.join();
}

/** The fields to set on a flow that exists: a new amount or rhythm from a day on becomes a revision. */
export function readRevision(form: FlowForm, initial: FlowForm, flow: Flow, currency: string) {
  const read = readForm(form, currency);
  if (form.repeats !== initial.repeats) return read;
  const isFromHereOn = form.holds === "from" && form.repeats === "rules" && isRevised(form, initial);
  if ("problem" in read || !isFromHereOn) {
    if ("problem" in read || form.holds === "always") return read;
    // Nothing that a revision holds has changed, so the flow's own amount and rules stay.
    const { amount: _amount, rules: _rules, ...rest } = read.value;
    return { value: rest };
  }
  const { amount, rules, ...rest } = read.value;
  const earlier = (flow.revisions ?? []).filter((revision) => revision.from < form.since);
  const revision = {
    from: form.since,
    amount: form.amount !== initial.amount ? amount : null,
    rules: form.rules.join() !== initial.rules.join() ? rules : null,
  };
  return { value: { ...rest, revisions: [...earlier, revision] } };
}

type ReadFlow = { value: Record<string, unknown> } | { field?: string; problem: string };

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

/** The fields to set; or the problem of the one field that cannot be read yet. */
export function readForm(form: FlowForm, currency: string): ReadFlow {
  const read = readAmount(form.amount, currency);
  if ("problem" in read) return read;
  const seasonal = readSeasons(form.seasonal, currency);
  if (typeof seasonal === "string") return { field: "seasonal", problem: seasonal };
  const splits = readSplits(form.splits, currency);
  if (typeof splits === "string") return { field: "splits", problem: splits };
  return {
    value: {
      estimate: form.estimate,
      subscription: form.subscription,
      remind_days: Number(form.remind_days || "0"),
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
