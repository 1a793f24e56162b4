import { expect, test } from "vitest";
import type { Account } from "@/shared/api/client";
import { problemOf } from "@/shared/fields";
import { setWriting } from "@/shared/format";
import { emptyForm, formOf, type Household, NOTHING, offerOf } from "./accountForm";
import { readAccount } from "./readAccount";

const TODAY = "2027-03-01";
const NOTATIONS = ["1,234.56", "1.234,56", "1 234,56"];
const write = (notation: string) =>
  setWriting({ decimals: { USD: 2, JPY: 0, KWD: 3 }, notation, date_order: "month_first" });

const OWED = { ...NOTHING, has_card: true, is_owed: true };
const HOUSEHOLD = {
  today: TODAY,
  household: { currency: "USD" },
  beginnings: { account: "a" },
  account_offers: [
    { ...NOTHING, kind: "checking", may_earn: true, may_sweep: true, may_be_spent: true },
    { ...NOTHING, kind: "savings", may_earn: true, may_be_spent: true },
    { ...OWED, kind: "credit_card" },
    { ...OWED, kind: "credit_line" },
    { ...NOTHING, kind: "owed_to_us", is_lent: true },
  ],
  usual_terms: { card_percent: "2", card_least: 25_00, card_days_after: 25 },
} as unknown as Household;

const PURSE = {
  id: "a",
  name: "Purse",
  kind: "checking",
  currency: "USD",
  opening: { date: "2026-01-01", balance: -1_234_56 },
  floor: 100_00,
  cushion: 250_50,
  spendable: true,
  closed: null,
  card: null,
  savings: null,
  sweep: null,
  lent: null,
} as const;

const CARD = {
  limit: 20_000_00,
  closing_day: 12,
  due: { days_after: 25 },
  rates: [
    { from: "2026-01-01", annual_rate: "21.9" },
    { from: "2027-06-01", annual_rate: "24.125" },
  ],
  minimum: { percent: "2.5", plus_interest: true, floor: 25_00 },
  pays: "fixed",
  fixed_amount: 1_150_00,
  from_account: "a",
  is_line: false,
  covers: null,
  begun_with: { balance: 412_30, closing: "2026-12-12", due: "2027-01-06" },
} as const;

const SAVINGS = {
  apy: "4.75",
  rate: null,
  basis: "365",
  compounding: "daily",
  movements_earn: "next_day",
  rounding: "daily",
} as const;

const SWEEP = {
  with: "b",
  least: 300_00,
  most: 2_500_00,
  rules: ["FREQ=WEEKLY;BYDAY=MO", "FREQ=MONTHLY;BYMONTHDAY=-1"],
  start: "2026-02-01",
} as const;

const LENT = { to: "Moss", into_account: "a", annual_rate: "0", repays: null, terms: null, sure: "counted" } as const;

const owed = (kind: string, more: object) => ({ ...PURSE, kind, floor: 0, cushion: 0, spendable: false, ...more });
const ACCOUNTS = [
  ["a purse", PURSE],
  ["one closed, of another currency", { ...PURSE, currency: "KWD", closed: "2027-02-01" }],
  ["yen", { ...PURSE, currency: "JPY", opening: { date: "2026-01-01", balance: 85_000 } }],
  ["savings by a yield", { ...PURSE, kind: "savings", savings: SAVINGS }],
  ["savings by a rate", { ...PURSE, kind: "savings", savings: { ...SAVINGS, apy: null, rate: "3.5" } }],
  ["one kept between two amounts", { ...PURSE, sweep: SWEEP }],
  ["one kept above an amount", { ...PURSE, sweep: { ...SWEEP, most: null } }],
  ["a card", owed("credit_card", { card: CARD })],
  ["a card paid by hand", owed("credit_card", {})],
  [
    "a line",
    owed("credit_line", { card: { ...CARD, pays: "minimum", fixed_amount: null, is_line: true, covers: "a" } }),
  ],
  ["a house", owed("asset", {})],
  ["money lent, as it comes", owed("owed_to_us", { lent: LENT })],
  [
    "money lent, by amounts on the dates of two rules",
    owed("owed_to_us", {
      lent: {
        ...LENT,
        annual_rate: "3.25",
        repays: { amount: 1_095_50, rules: ["FREQ=MONTHLY;BYMONTHDAY=10", "FREQ=YEARLY"], start: "2026-02-10" },
      },
    }),
  ],
  [
    "money lent, by a schedule",
    owed("owed_to_us", {
      lent: {
        ...LENT,
        sure: "doubtful",
        terms: {
          principal: 1_300_00,
          disbursed: "2025-12-24",
          annual_rate: "4.125",
          payments: 18,
          first_payment: "2026-01-24",
        },
      },
    }),
  ],
] as const;

test.each(ACCOUNTS)("%s looked at and saved as it is stays as it is", (_, account) => {
  for (const notation of NOTATIONS) {
    write(notation);
    const saved = account as unknown as Account;
    const { id, ...fields } = account;
    expect(readAccount(formOf(saved, HOUSEHOLD), saved, offerOf(HOUSEHOLD, saved.kind))).toEqual({ value: fields });
  }
});

test("what cannot be read is told at its field, and what is left empty is what its kind begins with", () => {
  write("1.234,56");
  const empty = { ...emptyForm("credit_card", HOUSEHOLD), currency: "usd", name: " Heron ", balance: "1.240,50" };
  const offer = offerOf(HOUSEHOLD, "credit_card");
  const card = { ...empty.card, limit: "2.000", closing_day: "31", percent: "2,5", by_hand: false };
  expect(readAccount({ ...empty, card }, null, offer)).toMatchObject({
    value: {
      name: "Heron",
      currency: "USD",
      opening: { date: TODAY, balance: -1_240_50 },
      card: { limit: 2_000_00, closing_day: 31, minimum: { percent: "2.5" } },
    },
  });
  const wrong = readAccount(
    { ...empty, card: { ...card, limit: "much", closing_day: "", percent: "2.5" } },
    null,
    offer,
  );
  for (const field of ["card.closing_day", "card.limit", "card.minimum.percent"])
    expect(problemOf(wrong, field)).toBeTruthy();
  expect(problemOf(wrong, "card.minimum.floor")).toBeUndefined();
});
