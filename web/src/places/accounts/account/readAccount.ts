/** How the fields of an account become those of a plan's account. */

import type { Account } from "@/shared/api/client";
import { amountIn, amountOr, type Fields, RATE, rateOr, readFields, wholeNumber } from "@/shared/fields";
import { z } from "@/shared/zod";
import { lentOf, lentTexts, lentTyped } from "../lent/lentForm";
import type { AccountForm, Offer } from "./accountForm";

export type Said = Pick<Account, "name" | "kind" | "opening"> & { currency: string } & Record<string, unknown>;

/** The fields to set, or what cannot be read yet. What is not given stays as it is. */
export function readAccount(form: AccountForm, account: Account | null, offer: Offer): Fields<Said> {
  const read = readTexts(form, offer);
  if ("problems" in read) return read;
  const { balance, lent, ...typed } = read.value;
  const name = form.name.trim();
  const floor = typed.floor ?? 0;
  return {
    value: {
      name,
      kind: form.kind,
      currency: currencyOf(form),
      opening: { date: form.date, balance: offer.is_owed ? -balance : balance },
      floor,
      cushion: typed.cushion ?? floor,
      spendable: form.spendable && offer.may_be_spent,
      closed: form.closed || null,
      card: typed.card && cardOf(form, typed.card),
      savings: typed.savings && {
        apy: null,
        rate: null,
        ...typed.savings,
        basis: form.savings.basis,
        compounding: form.savings.compounding,
        movements_earn: form.savings.movements_earn,
        rounding: form.savings.rounding,
      },
      sweep: typed.sweep && {
        with: form.sweep.partner,
        ...typed.sweep,
        // The slip shows the first rule; others that a plan document brought stay.
        rules: [form.sweep.rule, ...(account?.sweep?.rules?.slice(1) ?? [])],
        start: account?.sweep?.start ?? form.date,
      },
      lent: lent && lentOf(form.lent, lent, { name, lent: balance, date: form.date, before: account?.lent }),
    },
  };
}

const currencyOf = (form: AccountForm) => form.currency.trim().toUpperCase();

const cardTyped = (currency: string) =>
  z.object({
    limit: amountIn(currency),
    closing_day: wholeNumber(3),
    due: z.record(z.string(), wholeNumber(3)),
    rates: z.array(z.object({ from: z.string(), annual_rate: RATE })),
    minimum: z.object({ percent: rateOr("0"), floor: amountOr(0, currency) }),
    fixed_amount: z.nullable(amountIn(currency)),
    begun_with: z.nullable(z.object({ balance: amountIn(currency), closing: z.string(), due: z.string() })),
  });

function cardOf({ kind, card }: AccountForm, typed: z.output<ReturnType<typeof cardTyped>>) {
  return {
    ...typed,
    minimum: { ...typed.minimum, plus_interest: card.plus_interest },
    pays: card.pays,
    from_account: card.from_account || null,
    is_line: kind === "credit_line",
    covers: kind === "credit_line" && card.covers ? card.covers : null,
  };
}

/** The texts of the form as amounts, rates and counts; null for what such an account does not have. */
function readTexts(form: AccountForm, offer: Offer) {
  const { card, savings, sweep } = form;
  const currency = currencyOf(form);
  const amount = amountIn(currency);
  const schema = z.object({
    balance: amount,
    floor: z.nullable(amountOr(0, currency)),
    cushion: z.nullable(amountOr(null, currency)),
    card: z.nullable(cardTyped(currency)),
    savings: z.nullable(z.record(z.string(), RATE)),
    sweep: z.nullable(z.object({ least: amount, most: amountOr(null, currency) })),
    lent: z.nullable(lentTyped(currency)),
  });
  return readFields(schema, {
    balance: form.balance,
    floor: offer.is_owed ? null : form.floor,
    cushion: offer.is_owed ? null : form.cushion,
    card: offer.has_card && !card.by_hand ? cardTexts(card) : null,
    savings: offer.may_earn && savings.earns !== "nothing" ? { [savings.earns]: savings.percent } : null,
    sweep: offer.may_sweep && sweep.is_on ? sweep : null,
    lent: offer.is_lent ? lentTexts(form.lent) : null,
  });
}

const cardTexts = (card: AccountForm["card"]) => ({
  ...card,
  due: { [card.due]: card.due_number },
  rates: card.rates.filter((step) => step.annual_rate.trim() !== ""),
  minimum: { percent: card.percent, floor: card.least },
  fixed_amount: card.pays === "fixed" ? card.fixed_amount : null,
  begun_with: card.begun_balance.trim()
    ? { balance: card.begun_balance, closing: card.begun_closing, due: card.begun_due }
    : null,
});
