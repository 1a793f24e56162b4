/** The fields of money lent, as they are typed, and how they are said to the app. */
import { type Rule, rhythmFrom } from "@/places/flows/slip/rhythm/rhythm";
import type { Account } from "@/shared/api/client";
import { digits, rateText, readAmount, readRate } from "@/shared/format";

export interface LentForm {
  to: string;
  into: string;
  /** The account that the money left, where it is lent now and that is recorded with it; empty for none. */
  from: string;
  how: "as_it_comes" | "amounts" | "schedule";
  sure: "counted" | "doubtful" | "left_out";
  percent: string;
  amount: string;
  rule: Rule;
  start: string;
  count: string;
  first: string;
}

export const emptyLent = (today: string, into: string): LentForm => ({
  to: "",
  into,
  from: "",
  how: "as_it_comes",
  sure: "counted",
  percent: "",
  amount: "",
  rule: rhythmFrom(today),
  start: today,
  count: "12",
  first: today,
});

/** What is there, as it is typed. */
export function lentFormOf({ lent, currency }: Account, empty: LentForm): LentForm {
  if (!lent) return empty;
  const { terms, repays } = lent;
  return {
    ...empty,
    to: lent.to,
    into: lent.into_account ?? "",
    how: terms ? "schedule" : repays ? "amounts" : "as_it_comes",
    sure: lent.sure ?? "counted",
    percent: rateText(terms ? terms.annual_rate : lent.annual_rate),
    ...(repays && {
      amount: digits(repays.amount, currency ?? "USD"),
      rule: repays.rules[0] ?? empty.rule,
      start: repays.start,
    }),
    ...(terms && { count: String(terms.payments ?? ""), first: terms.first_payment }),
  };
}

/** What is said of it, with `lent` before each field that cannot be read. */
export function readLent(
  form: LentForm,
  {
    name,
    lent,
    date,
    currency,
    before,
  }: {
    name: string;
    lent: number;
    date: string;
    currency: string;
    before: Account["lent"];
  },
  problems: Record<string, string>,
): Account["lent"] {
  const read = (field: string, text: string) => {
    const readText = readAmount(text, currency);
    if ("problem" in readText) problems[`lent.${field}`] = readText.problem;
    return "amount" in readText ? readText.amount : 0;
  };
  const rate = form.percent.trim() === "" ? { rate: "0" } : readRate(form.percent);
  if ("problem" in rate) problems["lent.annual_rate"] = rate.problem;
  const percent = "rate" in rate ? rate.rate : "0";
  if (form.how === "schedule" && !/^\d{1,4}$/.test(form.count.trim()))
    problems["lent.terms.payments"] = "Write a whole number.";
  const schedule = form.how === "schedule";
  return {
    to: form.to.trim() || name,
    into_account: form.into || null,
    annual_rate: schedule ? "0" : percent,
    repays:
      form.how === "amounts"
        ? {
            amount: read("repays.amount", form.amount),
            // The slip shows the first rule; others that a plan document brought stay.
            rules: [form.rule, ...(before?.repays?.rules.slice(1) ?? [])],
            start: form.start,
          }
        : null,
    terms: schedule
      ? {
          ...before?.terms,
          principal: before?.terms?.principal ?? lent,
          disbursed: before?.terms?.disbursed ?? date,
          annual_rate: percent,
          payments: Number(form.count) || 0,
          first_payment: form.first,
        }
      : null,
    sure: form.sure,
  } as Account["lent"];
}
