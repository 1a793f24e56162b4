import { keepPreviousData } from "@tanstack/react-query";
import { useState } from "react";
import { Refused, type Schemas, server } from "@/shared/api/client";
import {
  amountOr,
  atLeastOnePayment,
  problemOf,
  RATE,
  rateNotBelowZero,
  readFields,
  wholeNumber,
} from "@/shared/fields";
import { money, monthOf } from "@/shared/format";
import { ChooseMany, ChooseOne } from "@/shared/kit/fields/Choice";
import { Field } from "@/shared/kit/fields/Field";
import { z } from "@/shared/zod";
import { type Asked, monthsFrom, type Way } from "./wayOut";

interface Props {
  way: Way;
  asked: Asked;
}

interface Terms {
  kind: string;
  rate: string;
  payments: string;
  fees: string;
  later: string;
  until: string;
  fee: string;
  minimum: string;
}

const BLANK: Terms = {
  kind: "loan",
  rate: "",
  payments: "36",
  fees: "",
  later: "",
  until: "",
  fee: "3",
  minimum: "2",
};

/** Some debts replaced by one, held against the plan as it is. */
export function Consolidation({ way, asked }: Props) {
  const [chosen, setChosen] = useState<string[]>([]);
  const [terms, setTerms] = useState({ ...BLANK, until: monthsFrom(way.start, 19).at(-1)?.value ?? "" });
  const set = (part: Partial<Terms>) => setTerms((before) => ({ ...before, ...part }));
  const read = readTerms(terms, way.currency);
  const body = requestOf(way, asked, chosen, read);
  const { data, error } = server.useQuery(
    "post",
    "/api/payoff/consolidation",
    { body: body as Schemas["ConsolidationRequest"] },
    { enabled: body !== null, placeholderData: keepPreviousData, retry: false },
  );
  const text = (name: keyof Terms, label: string, className = "!w-28") => (
    <Field label={label} problem={terms[name].trim() === "" ? undefined : problemOf(read, name)}>
      {(ids) => (
        <input
          {...ids}
          inputMode="decimal"
          value={terms[name]}
          onChange={(event) => set({ [name]: event.target.value })}
          className={`field text-right ${className}`}
        />
      )}
    </Field>
  );
  return (
    <section aria-label="Several debts into one" className="mt-8">
      <h2 className="border-b border-rule-strong text-lg">Several debts into one</h2>
      <div className="flex flex-col gap-3 py-2">
        <ChooseMany
          label="Debts that are replaced"
          values={chosen}
          onChange={setChosen}
          options={way.debts.map((debt) => ({ value: debt.id, label: debt.name }))}
        />
        <ChooseOne
          label="Replaced by"
          value={terms.kind}
          options={[
            { value: "loan", label: "by one new loan" },
            { value: "card", label: "by a card at a promotional rate" },
          ]}
          onChange={(kind) => set({ kind })}
        />
        <div className="flex flex-wrap items-start gap-3">
          {text("rate", terms.kind === "loan" ? "Rate, %" : "Promotional rate, %")}
          {terms.kind === "loan" ? (
            <>
              {text("payments", "Monthly payments")}
              {text("fees", `Fees (${way.currency}), added to it`, "!w-40")}
            </>
          ) : (
            <>
              <Field label="until">
                {(ids) => (
                  <input
                    {...ids}
                    type="month"
                    value={terms.until}
                    onChange={(event) => set({ until: event.target.value })}
                    className="field !w-44"
                  />
                )}
              </Field>
              {text("later", "Rate after that, %")}
              {text("fee", "Fee, % of what is moved")}
              {text("minimum", "Minimum, %")}
            </>
          )}
        </div>
        {error instanceof Refused && <p className="text-rust">{error.details[0]?.msg}</p>}
        {chosen.length === 0 && <p className="text-pencil">Choose the debts that one new debt would replace.</p>}
        {body !== null && data && !error && <Outcome outcome={data} />}
      </div>
    </section>
  );
}

function Outcome({ outcome: answered }: { outcome: Schemas["ConsolidationAnswer"] }) {
  const { currency, saves } = answered;
  return (
    <div data-testid="consolidated">
      <p>
        {money(answered.moved, currency)} moved; {money(answered.owed, currency)} owed on the new debt, with{" "}
        {money(answered.fees, currency)} of fees; it asks {money(answered.payment, currency)} a month at first.
      </p>
      <p>
        <strong>
          {saves === null
            ? "One of the two never ends."
            : saves > 0
              ? `Saves ${money(saves, currency)} against the plan`
              : `Costs ${money(-saves, currency)} more than the plan`}
        </strong>
        {saves !== null &&
          ` (interest and fees ${money(answered.costs, currency)} against ${money(answered.costs_before, currency)})`}
        {answered.debt_free &&
          answered.debt_free_before &&
          `; debt-free in ${monthOf(answered.debt_free)} against ${monthOf(answered.debt_free_before)}`}
        . All minimums together are {money(answered.minimums, currency)} in the first month against{" "}
        {money(answered.minimums_before, currency)}.
      </p>
    </div>
  );
}

function schemaOf(kind: string, currency: string) {
  const rate = RATE.check(rateNotBelowZero);
  const count = wholeNumber(3).check(atLeastOnePayment);
  return kind === "loan"
    ? z.object({ kind: z.literal("loan"), rate, payments: count, fees: amountOr(0, currency) })
    : z.object({
        kind: z.literal("card"),
        rate,
        later: rate,
        fee: rate,
        minimum: rate,
        until: z.string().check(z.minLength(1)),
      });
}

type TermsRead = ReturnType<typeof readTerms>;

const readTerms = (terms: Terms, currency: string) =>
  readFields(schemaOf(terms.kind, currency), terms as z.input<ReturnType<typeof schemaOf>>);

/** What is asked of the server; null until enough of it can be read. */
function requestOf(way: Way, asked: Asked, chosen: string[], read: TermsRead): Schemas["ConsolidationRequest"] | null {
  const before = chosen.filter((id) => way.debts.some((debt) => debt.id === id));
  if (before.length === 0 || "problems" in read) return null;
  const shared = { asked, chosen: before };
  if (read.value.kind === "loan") {
    const { rate, payments, fees } = read.value;
    return { ...shared, loan: { annual_rate: rate, payments, fees, fees_financed: true }, card: null };
  }
  const { rate, later, fee, minimum, until } = read.value;
  return {
    ...shared,
    loan: null,
    card: {
      rates: [
        { from: `${way.start}-01`, annual_rate: rate },
        { from: `${monthsFrom(until, 2)[1]?.value}-01`, annual_rate: later },
      ],
      minimum: { fixed: null, percent: minimum, plus_interest: true, floor: 0 },
      fee_percent: fee,
    },
  };
}
