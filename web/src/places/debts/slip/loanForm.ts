/** The fields of a loan as a person types them, and how they become the terms of a plan's loan. */
import type { Schemas } from "@/shared/api/client";
import { digits, rateText, readAmount, readRate } from "@/shared/format";

export type Loan = Schemas["Loan"];
export type Interest = NonNullable<Loan["interest"]>;

/** The escrow account that is made with the loan. */
export const NEW_ESCROW = "new account";

/**
 * What is owed: what is left where all was paid as agreed until now; what is typed, in the place of what was borrowed
 * ("rest") or beside it ("known"); or all of it.
 */
export type Owing = "agreed" | "rest" | "known" | "whole";

/** What is owed of a loan unless something else is chosen: what began before today was paid as agreed. */
export const owingOf = (form: LoanForm, today: string): Owing =>
  form.owing || (form.first_payment !== "" && form.first_payment < today ? "agreed" : "whole");

export interface DatedForm {
  from: string;
  value: string;
}

export interface ExtraForm {
  shape: "date" | "every" | "yearly";
  amount: string;
  date: string;
  every: string;
  month: string;
  from: string;
  to: string;
}

export interface FeeForm {
  name: string;
  amount: string;
  financed: boolean;
}

export interface LenderForm {
  from: string;
  name: string;
  address: string;
  fee: string;
}

export interface YearBeforeForm {
  year: string;
  interest: string;
  property_tax: string;
}

export interface LoanForm {
  name: string;
  principal: string;
  rate: string;
  per_year: string;
  /** How many payments, or how many years of them. */
  payments: string;
  counted_in: "payments" | "years";
  payment: string;
  disbursed: string;
  first_payment: string;
  /** What is owed: chosen, or, while it is empty, as the first payment says. */
  owing: Owing | "";
  owed: string;
  owed_on: string;
  from_account: string;
  /** An account, NEW_ESCROW for one that is made with the loan, or empty. */
  escrow_account: string;
  /** What is in the new one. */
  escrow_held: string;
  interest: Interest;
  balloon: string;
  accelerated: boolean;
  rounds_up: boolean;
  interest_only: string;
  negative_amortization: boolean;
  rate_changes: DatedForm[];
  keeps_payment: boolean;
  extras: ExtraForm[];
  recasts: boolean;
  fees: FeeForm[];
  escrow: DatedForm[];
  payment_changes: DatedForm[];
  insurance: string;
  insurance_share: string;
  insurance_value: string;
  lenders: LenderForm[];
  property: string;
  years_before: YearBeforeForm[];
}

export function emptyLoan(today: string, firstPayment: string, account: string): LoanForm {
  return {
    name: "",
    principal: "",
    rate: "",
    per_year: "12",
    payments: "",
    counted_in: "payments",
    payment: "",
    disbursed: today,
    first_payment: firstPayment,
    owing: "",
    owed: "",
    owed_on: today,
    from_account: account,
    escrow_account: "",
    escrow_held: "0",
    interest: "equal_periods",
    balloon: "",
    accelerated: false,
    rounds_up: false,
    interest_only: "",
    negative_amortization: false,
    rate_changes: [],
    keeps_payment: false,
    extras: [],
    recasts: false,
    fees: [],
    escrow: [],
    payment_changes: [],
    insurance: "",
    insurance_share: "80",
    insurance_value: "",
    lenders: [],
    property: "",
    years_before: [],
  };
}

/** The form of a household's loan. */
export function formOf(account: Schemas["Account"], loan: Loan): LoanForm {
  const currency = account.currency ?? "USD";
  const amount = (minor: number | null | undefined) => (minor ? digits(minor, currency) : "");
  const dated = (list: readonly { from: string; amount: number }[] | undefined) =>
    (list ?? []).map((each) => ({ from: each.from, value: digits(each.amount, currency) }));
  return {
    ...emptyLoan(account.opening.date, loan.first_payment, loan.from_account ?? ""),
    name: account.name,
    principal: digits(loan.principal, currency),
    rate: rateText(loan.annual_rate),
    per_year: String(loan.payments_per_year ?? 12),
    payments: loan.years ? rateText(loan.years) : loan.payments ? String(loan.payments) : "",
    counted_in: loan.years ? "years" : "payments",
    payment: amount(loan.payment),
    disbursed: loan.disbursed,
    first_payment: loan.first_payment,
    owing:
      account.opening.date === loan.disbursed
        ? "whole"
        : account.opening.balance === -loan.principal
          ? "rest"
          : "known",
    owed: digits(-account.opening.balance, currency),
    owed_on: account.opening.date,
    escrow_account: loan.escrow_account ?? "",
    interest: loan.interest ?? "equal_periods",
    balloon: amount(loan.balloon),
    accelerated: loan.accelerated ?? false,
    rounds_up: loan.payment_rounding === "up",
    interest_only: loan.interest_only ? String(loan.interest_only) : "",
    negative_amortization: loan.negative_amortization ?? false,
    rate_changes: (loan.rate_changes ?? []).map((each) => ({ from: each.from, value: rateText(each.annual_rate) })),
    keeps_payment: loan.after_rate_change === "keep_payment",
    extras: (loan.extras ?? []).map((each) => extraForm(each, currency)),
    recasts: loan.extra_effect === "recast",
    fees: (loan.fees ?? []).map((fee) => ({
      name: fee.name,
      amount: digits(fee.amount, currency),
      financed: fee.financed ?? false,
    })),
    escrow: dated(loan.escrow),
    payment_changes: dated(loan.payment_changes),
    insurance: amount(loan.insurance?.amount),
    insurance_share: String(loan.insurance?.until_share ?? "80"),
    insurance_value: amount(loan.insurance?.original_value),
    years_before: (loan.years_before ?? []).map((each) => ({
      year: String(each.year),
      interest: amount(each.interest),
      property_tax: amount(each.property_tax),
    })),
    lenders: (loan.lenders ?? []).map((each) => ({
      from: each.from,
      name: each.name,
      address: each.address ?? "",
      fee: amount(each.fee),
    })),
    property: loan.property ?? "",
  };
}

function extraForm(extra: NonNullable<Loan["extras"]>[number], currency: string): ExtraForm {
  return {
    shape: extra.date ? "date" : extra.every ? "every" : "yearly",
    amount: digits(extra.amount, currency),
    date: extra.date ?? "",
    every: String(extra.every ?? 1),
    month: String(extra.yearly_in ?? 1),
    from: extra.from ?? "",
    to: extra.to ?? "",
  };
}

export type ReadLoan =
  | { loan: Loan; owed: number | null; newEscrow: number | null }
  | { field: string; problem: string };

class Unreadable extends Error {
  constructor(
    readonly field: string,
    problem: string,
  ) {
    super(problem);
  }
}

/** The terms that the form says; or the field that cannot be read yet, and why. */
export function readLoan(form: LoanForm, currency: string): ReadLoan {
  const amount = (text: string, field: string): number => {
    const read = readAmount(text, currency);
    if ("problem" in read) throw new Unreadable(field, read.problem);
    return read.amount;
  };
  const orNone = (text: string, field: string) => (text.trim() ? amount(text, field) : null);
  const whole = (text: string, field: string): number | null => {
    if (!text.trim()) return null;
    if (!/^\d{1,5}$/.test(text.trim())) throw new Unreadable(field, "Write a whole number.");
    return Number(text);
  };
  const rate = (text: string, field: string): string => {
    const read = readRate(text);
    if ("problem" in read) throw new Unreadable(field, read.problem);
    return read.rate;
  };
  try {
    const isKnown = form.owing === "known" || form.owing === "rest";
    const owed = isKnown ? amount(form.owed, "owed") : null;
    const principal = form.owing === "rest" && owed !== null ? owed : amount(form.principal, "principal");
    const isNewEscrow = form.escrow_account === NEW_ESCROW && form.escrow.length > 0;
    const dated = (list: DatedForm[], field: string) =>
      list.map((each) => ({ from: each.from, amount: amount(each.value, field) }));
    const loan: Loan = {
      principal,
      annual_rate: rate(form.rate, "annual_rate"),
      payments_per_year: Number(form.per_year) as Loan["payments_per_year"],
      ...(form.counted_in === "years" && form.payments.trim()
        ? { years: rate(form.payments, "payments") }
        : { payments: whole(form.payments, "payments") }),
      payment: orNone(form.payment, "payment"),
      disbursed: form.disbursed,
      first_payment: form.first_payment,
      interest: form.interest,
      balloon: orNone(form.balloon, "balloon") ?? 0,
      accelerated: form.accelerated,
      payment_rounding: form.rounds_up ? "up" : "half_up",
      interest_only: whole(form.interest_only, "interest_only") ?? 0,
      negative_amortization: form.negative_amortization,
      rate_changes: form.rate_changes.map((each) => ({
        from: each.from,
        annual_rate: rate(each.value, "rate_changes"),
      })),
      after_rate_change: form.keeps_payment ? "keep_payment" : "relevel",
      extras: form.extras.map((each) => readExtra(each, amount(each.amount, "extras"))),
      extra_effect: form.recasts ? "recast" : "shorten",
      fees: form.fees.map((fee) => ({ ...fee, amount: amount(fee.amount, "fees") })),
      escrow: dated(form.escrow, "escrow"),
      payment_changes: dated(form.payment_changes, "payment_changes"),
      insurance: form.insurance.trim()
        ? {
            amount: amount(form.insurance, "insurance"),
            until_share: rate(form.insurance_share, "insurance"),
            original_value: amount(form.insurance_value, "insurance"),
          }
        : null,
      ...(form.from_account && { from_account: form.from_account }),
      ...(form.escrow_account && !isNewEscrow && { escrow_account: form.escrow_account }),
      ...(form.property && { property: form.property }),
      years_before: form.years_before.map((each) => ({
        year: whole(each.year, "years_before") ?? 0,
        interest: orNone(each.interest, "years_before") ?? 0,
        property_tax: orNone(each.property_tax, "years_before") ?? 0,
      })),
      lenders: form.lenders.map((each) => ({ ...each, fee: orNone(each.fee, "lenders") ?? 0 })),
    };
    return {
      loan,
      owed,
      newEscrow: isNewEscrow ? amount(form.escrow_held, "new_escrow") : null,
    };
  } catch (error) {
    if (error instanceof Unreadable) return { field: error.field, problem: error.message };
    throw error;
  }
}

function readExtra(form: ExtraForm, amount: number): NonNullable<Loan["extras"]>[number] {
  if (form.shape === "date") return { amount, date: form.date };
  const span = { from: form.from || null, to: form.to || null };
  if (form.shape === "every") return { amount, every: Number(form.every) || 1, ...span };
  return { amount, yearly_in: Number(form.month), ...span };
}
