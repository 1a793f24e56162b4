import { type Rule, rhythmFrom } from "@/places/flows/slip/rhythm/rhythm";
import type { Account, Schemas } from "@/shared/api/client";
import { digits, rateText } from "@/shared/format";
import { emptyLent, type LentForm, lentFormOf } from "../lent/lentForm";

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
