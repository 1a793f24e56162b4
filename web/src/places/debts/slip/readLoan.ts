/** How the fields of a loan become the terms of a plan's loan. */

import { amountIn, amountOr, type Fields, RATE, readFields, wholeOr } from "@/shared/fields";
import { z } from "@/shared/zod";
import { type ExtraForm, type Loan, type LoanForm, NEW_ESCROW } from "./loanForm";

interface ReadLoan {
  loan: Loan;
  /** What is known to be owed, and what is in an escrow account that is made with the loan; null where nothing is. */
  owed: number | null;
  newEscrow: number | null;
}

/** The terms that the form says; or what cannot be read yet, and why. */
export function readLoan(form: LoanForm, currency: string): Fields<ReadLoan> {
  const read = readTexts(form, currency);
  if ("problems" in read) return read;
  const { owed, new_escrow, insurance, ...typed } = read.value;
  const loan: Loan = {
    principal: typed.principal ?? owed ?? 0,
    annual_rate: typed.annual_rate,
    payments_per_year: Number(form.per_year) as Loan["payments_per_year"],
    ...(typeof typed.payments === "string" ? { years: typed.payments } : { payments: typed.payments }),
    payment: typed.payment,
    ...(form.disbursed && { disbursed: form.disbursed }),
    first_payment: form.first_payment,
    interest: form.interest,
    balloon: typed.balloon,
    accelerated: form.accelerated,
    payment_rounding: form.rounds_up ? "up" : "half_up",
    interest_only: typed.interest_only,
    negative_amortization: form.negative_amortization,
    rate_changes: typed.rate_changes.map(({ from, value }) => ({ from, annual_rate: value })),
    after_rate_change: form.keeps_payment ? "keep_payment" : "relevel",
    extras: typed.extras.map(({ amount }, place) => extraOf(form.extras[place] as ExtraForm, amount)),
    extra_effect: form.recasts ? "recast" : "shorten",
    fees: typed.fees,
    escrow: typed.escrow.map(({ from, value }) => ({ from, amount: value })),
    payment_changes: typed.payment_changes.map(({ from, value }) => ({ from, amount: value })),
    insurance,
    ...(form.from_account && { from_account: form.from_account }),
    ...(form.escrow_account && !isEscrowNew(form) && { escrow_account: form.escrow_account }),
    ...(form.property && { property: form.property }),
    years_before: typed.years_before,
    lenders: typed.lenders,
  };
  return { value: { loan, owed, newEscrow: new_escrow } };
}

const isEscrowNew = (form: LoanForm) => form.escrow_account === NEW_ESCROW && form.escrow.length > 0;

/** The texts of the form as amounts, rates and counts. */
function readTexts(form: LoanForm, currency: string) {
  const amount = amountIn(currency);
  const amountOrNone = amountOr(0, currency);
  const dated = z.array(z.object({ from: z.string(), value: amount }));
  const isInYears = form.counted_in === "years" && form.payments.trim() !== "";
  const schema = z.object({
    owed: z.nullable(amount),
    // What is owed stands for what was borrowed where that is not known.
    principal: z.nullable(amount),
    annual_rate: RATE,
    payments: isInYears ? RATE : wholeOr(null, 5),
    payment: amountOr(null, currency),
    balloon: amountOrNone,
    interest_only: wholeOr(0, 5),
    rate_changes: z.array(z.object({ from: z.string(), value: RATE })),
    extras: z.array(z.object({ amount })),
    fees: z.array(z.object({ name: z.string(), amount, financed: z.boolean() })),
    escrow: dated,
    payment_changes: dated,
    insurance: z.nullable(z.object({ amount, until_share: RATE, original_value: amount })),
    years_before: z.array(z.object({ year: wholeOr(0, 5), interest: amountOrNone, property_tax: amountOrNone })),
    lenders: z.array(z.object({ from: z.string(), name: z.string(), address: z.string(), fee: amountOrNone })),
    new_escrow: z.nullable(amount),
  });
  return readFields(schema, {
    ...form,
    owed: form.owing === "known" || form.owing === "rest" ? form.owed : null,
    principal: form.owing === "rest" ? null : form.principal,
    annual_rate: form.rate,
    insurance: form.insurance.trim()
      ? { amount: form.insurance, until_share: form.insurance_share, original_value: form.insurance_value }
      : null,
    new_escrow: isEscrowNew(form) ? form.escrow_held : null,
  });
}

function extraOf(form: ExtraForm, amount: number): NonNullable<Loan["extras"]>[number] {
  if (form.shape === "date") return { amount, date: form.date };
  const span = { from: form.from || null, to: form.to || null };
  if (form.shape === "every") return { amount, every: Number(form.every) || 1, ...span };
  return { amount, yearly_in: Number(form.month), ...span };
}
