import { expect, test } from "vitest";
import { setWriting } from "@/shared/format";
import { emptyLoan, formOf, type Loan, owingOf } from "./loanForm";
import { readLoan } from "./readLoan";

const TODAY = "2027-03-01";
const NOTATIONS = ["1,234.56", "1.234,56", "1 234,56"];
const write = (notation: string) =>
  setWriting({
    decimals: { USD: 2, JPY: 0 },
    notation,
    date_order: notation === "1,234.56" ? "month_first" : "day_first",
  });

const PLAIN: Loan = {
  principal: 120_000_00,
  annual_rate: "4.875",
  payments_per_year: 12,
  payments: 360,
  payment: null,
  disbursed: "2027-01-15",
  first_payment: "2027-03-01",
  interest: "equal_periods",
  balloon: 0,
  accelerated: false,
  payment_rounding: "half_up",
  interest_only: 0,
  negative_amortization: false,
  rate_changes: [],
  after_rate_change: "relevel",
  extras: [],
  extra_effect: "shorten",
  fees: [],
  escrow: [],
  payment_changes: [],
  insurance: null,
  years_before: [],
  lenders: [],
};

/** A loan with everything that its slip has. */
const FULL: Loan = {
  ...PLAIN,
  payment: 1_635_06,
  payments_per_year: 26,
  accelerated: true,
  payment_rounding: "up",
  interest: "actual_365",
  balloon: 10_000_00,
  interest_only: 12,
  negative_amortization: true,
  rate_changes: [{ from: "2029-01-01", annual_rate: "5.25" }],
  after_rate_change: "keep_payment",
  extras: [
    { amount: 500_00, date: "2028-02-29" },
    { amount: 25_50, every: 2, from: "2027-06-01", to: null },
    { amount: 1_000_00, yearly_in: 12, from: null, to: "2031-12-31" },
  ],
  extra_effect: "recast",
  fees: [{ name: "Survey", amount: 412_50, financed: true }],
  escrow: [{ from: "2027-03-01", amount: 255_00 }],
  payment_changes: [{ from: "2030-01-01", amount: 1_700_00 }],
  insurance: { amount: 61_20, until_share: "78.5", original_value: 150_000_00 },
  from_account: "joint",
  escrow_account: "escrow",
  property: "house",
  years_before: [{ year: 2025, interest: 5_811_43, property_tax: 0 }],
  lenders: [{ from: "2027-03-01", name: "Tern Lending", address: "", fee: 4_00 }],
};

const account = (loan: Loan, owed: number, currency = "USD") =>
  ({
    id: "loan",
    name: "Loan",
    kind: "loan",
    currency,
    opening: { date: loan.disbursed ?? TODAY, balance: -owed },
    floor: 0,
    spendable: true,
    loan,
  }) as Parameters<typeof formOf>[0];

test.each(NOTATIONS)("a loan looked at and saved as it is stays as it is, written as %s", (notation) => {
  write(notation);
  for (const [loan, currency] of [
    [PLAIN, "USD"],
    [FULL, "USD"],
    [{ ...PLAIN, principal: 3_000_000 }, "JPY"],
    [{ ...PLAIN, annual_rate: "0", payments: null, payment: 900_00 }, "USD"],
  ] as const) {
    const read = readLoan(formOf(account(loan, loan.principal, currency), loan), currency);
    expect(read).toEqual({ value: { loan, owed: null, newEscrow: null } });
  }
});

test("what is owed of a loan under way stands for what was borrowed; else it opens the account", () => {
  write("1,234.56");
  const form = { ...emptyLoan(TODAY, "2027-04-01", "joint"), rate: "5", payments: "24" };
  expect(readLoan({ ...form, owing: "rest", owed: "4,000" }, "USD")).toMatchObject({
    value: { loan: { principal: 4_000_00 }, owed: 4_000_00 },
  });
  expect(readLoan({ ...form, owing: "known", principal: "6000", owed: "4000" }, "USD")).toMatchObject({
    value: { loan: { principal: 6_000_00 }, owed: 4_000_00 },
  });
  expect(readLoan({ ...form, owing: "whole", principal: "6000" }, "USD")).toMatchObject({ value: { owed: null } });
});

test("the day of paying out may be left to the app, and years may be said for payments", () => {
  write("1,234.56");
  const form = { ...emptyLoan(TODAY, "2027-04-01", "joint"), principal: "6000", rate: "5", payments: "2.5" };
  const read = readLoan({ ...form, disbursed: "", counted_in: "years" }, "USD");
  expect(read).toMatchObject({ value: { loan: { years: "2.5" } } });
  expect("value" in read && "disbursed" in read.value.loan).toBe(false);
});

test("what cannot be read is told at its field", () => {
  write("1.234,56");
  const form = { ...emptyLoan(TODAY, "2027-04-01", "joint"), principal: "6.000", rate: "5,5", payments: "24" };
  expect(readLoan(form, "USD")).toMatchObject({
    value: { loan: { principal: 6_000_00, annual_rate: "5.5" } },
  });
  const wrong = readLoan({ ...form, principal: "6.00.0", payments: "24,5", rate: "five", balloon: "1e3" }, "USD");
  expect(wrong).toMatchObject({ problems: { payments: "Write a whole number." } });
  expect(Object.keys("problems" in wrong && wrong.problems).sort()).toEqual([
    "annual_rate",
    "balloon",
    "payments",
    "principal",
  ]);
});

test("a loan that began before today was paid as agreed unless something else is chosen", () => {
  const form = emptyLoan(TODAY, "2026-06-10", "joint");
  expect(owingOf(form, TODAY)).toBe("agreed");
  expect(owingOf({ ...form, owing: "rest" }, TODAY)).toBe("rest");
  expect(owingOf({ ...form, first_payment: "2027-04-01" }, TODAY)).toBe("whole");
});
