import { type Rule, rhythmFrom } from "@/places/flows/slip/rhythm/rhythm";
import type { Account, Schemas } from "@/shared/api/client";
import { digits, rateText, readAmount, readRate } from "@/shared/format";
import { emptyLent, type LentForm, lentFormOf, readLent } from "../lent/lentForm";

export interface CardForm {
  limit: string;
  closing_day: string;
  due: "day" | "days_after";
  due_number: string;
  rates: { from: string; annual_rate: string }[];
  percent: string;
  plus_interest: boolean;
  least: string;
  pays: "statement" | "minimum" | "fixed";
  fixed_amount: string;
  from_account: string;
  covers: string;
  /** Only what is owed is known: there are no terms, and it is paid by hand. */
  by_hand: boolean;
  /** A statement that closed before the card was begun here; empty for none. */
  begun_balance: string;
  begun_closing: string;
  begun_due: string;
}

export interface SavingsForm {
  earns: "nothing" | "apy" | "rate";
  percent: string;
  basis: "365" | "actual" | "360";
  compounding: "daily" | "none";
  movements_earn: "same_day" | "next_day";
  rounding: "at_credit" | "daily";
}

export interface SweepForm {
  is_on: boolean;
  partner: string;
  least: string;
  most: string;
  rule: Rule;
}

export interface AccountForm {
  name: string;
  kind: Account["kind"];
  currency: string;
  date: string;
  balance: string;
  floor: string;
  cushion: string;
  spendable: boolean;
  /** From which day on it is kept with its past alone; empty while it is open. */
  closed: string;
  card: CardForm;
  savings: SavingsForm;
  sweep: SweepForm;
  lent: LentForm;
}

/** What forms of accounts begin with, and what an account of each kind can have. */
export type Household = Schemas["HouseholdAnswer"];
export type Offer = Household["account_offers"][number];

/** What none but a plain account has. */
export const NOTHING: Omit<Offer, "kind"> = {
  has_card: false,
  may_earn: false,
  may_sweep: false,
  may_be_spent: false,
  is_owed: false,
  is_lent: false,
  pays: "statement",
};

/** What an account of a kind can have. */
export const offerOf = (household: Household, kind: Account["kind"]): Offer =>
  household.account_offers.find((offer) => offer.kind === kind) ?? { kind, ...NOTHING };

/** The form of a new account, its amounts in the household's currency. */
export function emptyForm(kind: Account["kind"], household: Household): AccountForm {
  const { today, usual_terms: usual } = household;
  const { currency } = household.household;
  const payer = household.beginnings.account ?? "";
  return {
    name: "",
    kind,
    currency,
    date: today,
    balance: "",
    floor: "",
    cushion: "",
    spendable: true,
    closed: "",
    card: {
      limit: "",
      closing_day: "",
      due: "days_after",
      due_number: String(usual.card_days_after),
      rates: [{ from: today, annual_rate: "" }],
      percent: rateText(usual.card_percent),
      plus_interest: true,
      least: digits(usual.card_least, currency),
      pays: offerOf(household, kind).pays,
      fixed_amount: "",
      from_account: payer,
      covers: "",
      by_hand: false,
      begun_balance: "",
      begun_closing: "",
      begun_due: "",
    },
    savings: {
      earns: "nothing",
      percent: "",
      basis: "365",
      compounding: "daily",
      movements_earn: "same_day",
      rounding: "at_credit",
    },
    sweep: { is_on: false, partner: "", least: "", most: "", rule: rhythmFrom(today, "DAILY") },
    lent: emptyLent(today, payer),
  };
}

/** What is there, as it is typed. */
export function formOf(account: Account, household: Household): AccountForm {
  const currency = account.currency ?? household.household.currency;
  const amount = (minor: number | null | undefined) => (minor == null ? "" : digits(minor, currency));
  const empty = emptyForm(account.kind, household);
  const { card, savings, sweep } = account;
  return {
    ...empty,
    name: account.name,
    currency,
    date: account.opening.date,
    balance: amount(offerOf(household, account.kind).is_owed ? -account.opening.balance : account.opening.balance),
    floor: amount(account.floor ?? 0),
    cushion: amount(account.cushion ?? 0),
    spendable: account.spendable ?? true,
    closed: account.closed ?? "",
    card: card
      ? {
          limit: amount(card.limit),
          closing_day: String(card.closing_day),
          due: card.due.day == null ? "days_after" : "day",
          due_number: String(card.due.day ?? card.due.days_after ?? ""),
          rates: (card.rates ?? []).map((step) => ({ from: step.from, annual_rate: rateText(step.annual_rate) })),
          percent: rateText(card.minimum?.percent),
          plus_interest: card.minimum?.plus_interest ?? false,
          least: amount(card.minimum?.floor),
          pays: card.pays ?? "statement",
          fixed_amount: amount(card.fixed_amount),
          from_account: card.from_account ?? "",
          covers: card.covers ?? "",
          by_hand: false,
          begun_balance: amount(card.begun_with?.balance),
          begun_closing: card.begun_with?.closing ?? "",
          begun_due: card.begun_with?.due ?? "",
        }
      : { ...empty.card, by_hand: true },
    savings: savings
      ? {
          earns: savings.apy == null ? "rate" : "apy",
          percent: rateText(savings.apy ?? savings.rate),
          basis: savings.basis ?? "365",
          compounding: savings.compounding ?? "daily",
          movements_earn: savings.movements_earn ?? "same_day",
          rounding: savings.rounding ?? "at_credit",
        }
      : empty.savings,
    sweep: sweep
      ? {
          is_on: true,
          partner: sweep.with,
          least: amount(sweep.least),
          most: amount(sweep.most),
          rule: sweep.rules?.[0] ?? empty.sweep.rule,
        }
      : empty.sweep,
    lent: lentFormOf(account, empty.lent),
  };
}

export type Problems = Record<string, string>;

/** The fields to set, and, by field, what cannot be read. What is not given stays as it is. */
export function readAccount(form: AccountForm, account: Account | null, offer: Offer) {
  const problems: Problems = {};
  const currency = form.currency.toUpperCase();
  const amount = (field: string, text: string, whenEmpty: number | null): number | null => {
    if (text.trim() === "" && whenEmpty !== null) return whenEmpty;
    const result = readAmount(text, currency);
    if ("problem" in result) problems[field] = result.problem;
    return "amount" in result ? result.amount : 0;
  };
  const whole = (field: string, text: string) => {
    if (!/^\d{1,3}$/.test(text.trim())) problems[field] = "Write a whole number.";
    return Number(text) || 0;
  };
  const percent = (field: string, text: string) => {
    const read = readRate(text);
    if ("problem" in read) problems[field] = read.problem;
    return "rate" in read ? read.rate : "0";
  };
  const { card, savings, sweep } = form;
  const optional = (field: string, text: string) => (text.trim() === "" ? null : amount(field, text, null));
  const cardValue = offer.has_card &&
    !card.by_hand && {
      limit: amount("card.limit", card.limit, null),
      closing_day: whole("card.closing_day", card.closing_day),
      due: { [card.due]: whole("card.due", card.due_number) },
      rates: card.rates
        .filter((step) => step.annual_rate.trim() !== "")
        .map((step, place) => ({
          from: step.from,
          annual_rate: percent(`card.rates.${place}.annual_rate`, step.annual_rate),
        })),
      minimum: {
        percent: percent("card.minimum.percent", card.percent || "0"),
        plus_interest: card.plus_interest,
        floor: amount("card.minimum.floor", card.least, 0),
      },
      pays: card.pays,
      fixed_amount: card.pays === "fixed" ? amount("card.fixed_amount", card.fixed_amount, null) : null,
      from_account: card.from_account || null,
      is_line: form.kind === "credit_line",
      covers: form.kind === "credit_line" && card.covers ? card.covers : null,
      begun_with:
        card.begun_balance.trim() === ""
          ? null
          : {
              balance: amount("card.begun_with.balance", card.begun_balance, null),
              closing: card.begun_closing,
              due: card.begun_due,
            },
    };
  const savingsValue = offer.may_earn &&
    savings.earns !== "nothing" && {
      apy: savings.earns === "apy" ? percent("savings.apy", savings.percent) : null,
      rate: savings.earns === "rate" ? percent("savings.rate", savings.percent) : null,
      basis: savings.basis,
      compounding: savings.compounding,
      movements_earn: savings.movements_earn,
      rounding: savings.rounding,
    };
  const sweepValue = offer.may_sweep &&
    sweep.is_on && {
      with: sweep.partner,
      least: amount("sweep.least", sweep.least, null),
      most: optional("sweep.most", sweep.most),
      // The slip shows the first rule; others that a plan document brought stay.
      rules: [sweep.rule, ...(account?.sweep?.rules?.slice(1) ?? [])],
      start: account?.sweep?.start ?? form.date,
    };
  const floor = offer.is_owed ? 0 : (amount("floor", form.floor, 0) as number);
  const balance = amount("balance", form.balance, null) as number;
  const name = form.name.trim();
  const said = { name, lent: balance, date: form.date, currency, before: account?.lent };
  const value = {
    name,
    kind: form.kind,
    currency: form.currency.trim().toUpperCase(),
    opening: { date: form.date, balance: offer.is_owed ? -balance : balance },
    floor,
    cushion: offer.is_owed ? floor : amount("cushion", form.cushion, floor),
    spendable: form.spendable && offer.may_be_spent,
    closed: form.closed || null,
    card: cardValue || null,
    savings: savingsValue || null,
    sweep: sweepValue || null,
    lent: offer.is_lent ? readLent(form.lent, said, problems) : null,
  };
  return { value, problems };
}
