/** The flow slip's fields, empty or as a flow has them. */
import type { Account, Flow, Schemas } from "@/shared/api/client";
import { digits, rateText } from "@/shared/format";
import { ALL_CHOSEN, type Preset, type Rule, rhythmFrom } from "./rhythm/rhythm";

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
  rules: Rule[];
  /** Of each rule, what was chosen by hand; the rest follows the day on which it starts. */
  chosen: Preset[][];
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
  /** Of a subscription: when it was last paid before the household began. */
  last_paid: string;
  still_due: boolean;
  remind_days: string;
  alarm_days: string;
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
    rules: [rhythmFrom(today)],
    chosen: [[]],
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
    last_paid: "",
    still_due: false,
    remind_days: "3",
    alarm_days: "",
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
    chosen: [ALL_CHOSEN],
    start: seen.first,
    roll: "none",
    estimate: seen.is_estimate,
    follows: seen.is_estimate ? "3" : "0",
  };
}

/** The form of a flow as it is today. What began before today changes from today on, unless told otherwise. */
export function formOf(row: Schemas["FlowRow"], today: string): FlowForm {
  const { flow, currency, amount_now, rules_now, rhythms_now, hourly_now } = row;
  return {
    kind: flow.kind === "loan_payment" ? "bill" : flow.kind,
    name: flow.name,
    amount: digits(amount_now, currency),
    from_account: row.from_account_now ?? "",
    to_account: row.to_account_now ?? "",
    category: row.category_now ?? "",
    payee: flow.payee ?? "",
    repeats: rules_now.length ? "rules" : "dates",
    rules: rules_now.length ? rules_now.map((rule, place) => rhythms_now[place] ?? rule) : [rhythmFrom(today)],
    chosen: rules_now.length ? rules_now.map(() => ALL_CHOSEN) : [[]],
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
    last_paid: flow.last_paid ?? "",
    still_due: false,
    remind_days: String(flow.remind_days ?? 3),
    alarm_days: flow.alarm_days == null ? "" : String(flow.alarm_days),
    late_days: String(flow.late_days ?? 0),
    may_skip: flow.may_skip ?? false,
    may_pause: flow.may_pause ?? false,
    property: flow.property ?? "",
    purpose: flow.purpose ?? "",
    growth: rateText(flow.growth?.percent),
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
    share: hourly_now ? rateText(hourly_now.share) : "100",
    hours: rateText(hourly_now?.hours),
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

/** The currency of a flow: that of the account whose money it is. */
export function currencyOf(form: FlowForm, accounts: Account[]): string {
  const main = form.kind === "income" ? form.to_account : form.from_account;
  return accounts.find((account) => account.id === main)?.currency ?? accounts[0]?.currency ?? "USD";
}
