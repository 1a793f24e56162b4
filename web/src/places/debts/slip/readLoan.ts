/** How the fields of a loan become the terms of a plan's loan. */
import { readAmount, readRate } from "@/shared/format";
import { type DatedForm, type ExtraForm, type Loan, type LoanForm, NEW_ESCROW } from "./loanForm";

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
      list.map((datedForm) => ({ from: datedForm.from, amount: amount(datedForm.value, field) }));
    const loan: Loan = {
      principal,
      annual_rate: rate(form.rate, "annual_rate"),
      payments_per_year: Number(form.per_year) as Loan["payments_per_year"],
      ...(form.counted_in === "years" && form.payments.trim()
        ? { years: rate(form.payments, "payments") }
        : { payments: whole(form.payments, "payments") }),
      payment: orNone(form.payment, "payment"),
      ...(form.disbursed && { disbursed: form.disbursed }),
      first_payment: form.first_payment,
      interest: form.interest,
      balloon: orNone(form.balloon, "balloon") ?? 0,
      accelerated: form.accelerated,
      payment_rounding: form.rounds_up ? "up" : "half_up",
      interest_only: whole(form.interest_only, "interest_only") ?? 0,
      negative_amortization: form.negative_amortization,
      rate_changes: form.rate_changes.map((rateChange) => ({
        from: rateChange.from,
        annual_rate: rate(rateChange.value, "rate_changes"),
      })),
      after_rate_change: form.keeps_payment ? "keep_payment" : "relevel",
      extras: form.extras.map((extra) => readExtra(extra, amount(extra.amount, "extras"))),
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
      years_before: form.years_before.map((yearBeforeForm) => ({
        year: whole(yearBeforeForm.year, "years_before") ?? 0,
        interest: orNone(yearBeforeForm.interest, "years_before") ?? 0,
        property_tax: orNone(yearBeforeForm.property_tax, "years_before") ?? 0,
      })),
      lenders: form.lenders.map((lender) => ({ ...lender, fee: orNone(lender.fee, "lenders") ?? 0 })),
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
