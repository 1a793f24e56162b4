/** The fields of money lent, as they are typed, and how they are said to the app. */

import { type Rule, rhythmFrom } from "@/places/flows/slip/rhythm/rhythm";
import type { Account } from "@/shared/api/client";
import { amountIn, rateOr, wholeNumber } from "@/shared/fields";
import { digits, rateText } from "@/shared/format";
import { z } from "@/shared/zod";

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

/** What is typed of it, read. */
export const lentTyped = (currency: string) =>
  z.object({
    annual_rate: rateOr("0"),
    repays: z.nullable(z.object({ amount: amountIn(currency) })),
    terms: z.nullable(z.object({ payments: wholeNumber(4) })),
  });

export const lentTexts = ({ how, percent, amount, count }: LentForm) => ({
  annual_rate: percent,
  repays: how === "amounts" ? { amount } : null,
  terms: how === "schedule" ? { payments: count } : null,
});

interface Behind {
  name: string;
  lent: number;
  date: string;
  before: Account["lent"];
}

/** What is said of it. */
export function lentOf(
  form: LentForm,
  { annual_rate, repays, terms }: z.output<ReturnType<typeof lentTyped>>,
  { name, lent, date, before }: Behind,
) {
  return {
    to: form.to.trim() || name,
    into_account: form.into || null,
    annual_rate: terms ? "0" : annual_rate,
    repays: repays && {
      ...repays,
      // The slip shows the first rule; others that a plan document brought stay.
      rules: [form.rule, ...(before?.repays?.rules.slice(1) ?? [])],
      start: form.start,
    },
    terms: terms && {
      ...before?.terms,
      principal: before?.terms?.principal ?? lent,
      disbursed: before?.terms?.disbursed ?? date,
      annual_rate,
      ...terms,
      first_payment: form.first,
    },
    sure: form.sure,
  };
}
