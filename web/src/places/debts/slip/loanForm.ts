/** The fields of a loan as a person types them. */
import type { Schemas } from "@/shared/api/client";
import { digits, rateText } from "@/shared/format";

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
    (list ?? []).map((step) => ({ from: step.from, value: digits(step.amount, currency) }));
  return {
    ...emptyLoan(account.opening.date, loan.first_payment, loan.from_account ?? ""),
    name: account.name,
    principal: digits(loan.principal, currency),
    rate: rateText(loan.annual_rate),
    per_year: String(loan.payments_per_year ?? 12),
    payments: loan.years ? rateText(loan.years) : loan.payments ? String(loan.payments) : "",
    counted_in: loan.years ? "years" : "payments",
    payment: amount(loan.payment),
    disbursed: loan.disbursed ?? "",
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
    rate_changes: (loan.rate_changes ?? []).map((rateChange) => ({
      from: rateChange.from,
      value: rateText(rateChange.annual_rate),
    })),
    keeps_payment: loan.after_rate_change === "keep_payment",
    extras: (loan.extras ?? []).map((extra) => extraForm(extra, currency)),
    recasts: loan.extra_effect === "recast",
    fees: (loan.fees ?? []).map((fee) => ({
      name: fee.name,
      amount: digits(fee.amount, currency),
      financed: fee.financed ?? false,
    })),
    escrow: dated(loan.escrow),
    payment_changes: dated(loan.payment_changes),
    insurance: amount(loan.insurance?.amount),
    insurance_share: rateText(loan.insurance?.until_share ?? "80"),
    insurance_value: amount(loan.insurance?.original_value),
    years_before: (loan.years_before ?? []).map((step) => ({
      year: String(step.year),
      interest: amount(step.interest),
      property_tax: amount(step.property_tax),
    })),
    lenders: (loan.lenders ?? []).map((lender) => ({
      from: lender.from,
      name: lender.name,
      address: lender.address ?? "",
      fee: amount(lender.fee),
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
