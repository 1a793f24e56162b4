import { keepPreviousData } from "@tanstack/react-query";
import { useMemo } from "react";
import { useForm, useWatch } from "react-hook-form";
import { LoanFields } from "@/places/debts/slip/LoanFields";
import { emptyLoan, type LoanForm } from "@/places/debts/slip/loanForm";
import { readLoan } from "@/places/debts/slip/readLoan";
import { Refused, type Schemas, server } from "@/shared/api/client";
import { useHousehold } from "@/shared/api/hooks";
import { digits, money, monthOf, rateText } from "@/shared/format";
import { BackLink } from "@/shared/kit/BackLink";
import { Button } from "@/shared/kit/Button";
import { useView } from "@/shared/view";
import { Outputs } from "./LoanPage";
import { LoanView } from "./LoanView";

/** A loan that nobody has yet, worked through on the same page without saving anything. */
export function TryLoan() {
  const household = useHousehold().data;
  if (!household) return null;
  return <Trial household={household} />;
}

function Trial({ household }: { household: Schemas["HouseholdAnswer"] }) {
  const view = useView();
  const { today, usual_terms: usual } = household;
  const { currency } = household.household;
  const { first_payment } = household.beginnings;
  const initial: LoanForm = useMemo(
    () => ({
      ...emptyLoan(today, first_payment, ""),
      principal: digits(usual.loan_principal, currency),
      rate: rateText(usual.loan_rate),
      payments: String(usual.loan_payments),
    }),
    [today, first_payment, usual, currency],
  );
  const form = useForm<LoanForm>({ defaultValues: initial });
  const values = useWatch({ control: form.control, defaultValue: initial }) as LoanForm;
  const read = readLoan(values, currency);
  const loan = "value" in read ? read.value.loan : null;
  const text = JSON.stringify(loan);
  // The same terms, however often the page is drawn.
  const terms = useMemo(() => JSON.parse(text) as typeof loan, [text]);
  const { data, error } = server.useQuery(
    "post",
    "/api/tools/loan-schedule",
    { body: terms as Schemas["Loan"] },
    { enabled: terms !== null, retry: false, placeholderData: keepPreviousData },
  );
  const problem = (field: string): string | undefined => {
    if ("problems" in read) return read.problems[field];
    if (!(error instanceof Refused)) return undefined;
    return error.details.find(({ loc }) => loc[1] === field)?.msg;
  };
  return (
    <div className="mx-auto max-w-6xl px-4 py-4 md:px-6">
      <BackLink to="/debts" name="Debts" />
      <div className="flex flex-wrap items-center gap-x-4 gap-y-2">
        <h1 className="text-xl">Try a loan</h1>
        {terms && !error && (
          <>
            <Button className="!min-h-9" onClick={() => view.openSlip("loan", null, encodeURIComponent(text))}>
              Put it into the household…
            </Button>
            <Outputs query={`loan=${encodeURIComponent(text)}`} />
          </>
        )}
      </div>
      <p className="text-pencil">Nothing here is saved.</p>
      <form
        aria-label="Terms"
        className="mt-3 flex max-w-4xl flex-col gap-4"
        onSubmit={(event) => event.preventDefault()}
      >
        <LoanFields
          today={today}
          form={form}
          values={values}
          currency={currency}
          accounts={[]}
          problem={problem}
          isTried
        />
      </form>
      {data && terms && !error && <Result data={data} terms={terms} today={today} currency={currency} />}
    </div>
  );
}

interface ResultProps {
  data: Schemas["LoanScheduleAnswer"];
  terms: Schemas["Loan"];
  today: string;
  currency: string;
}

/** What the loan comes to, in a sentence and payment by payment. */
function Result({ data, terms, today, currency }: ResultProps) {
  return (
    <>
      <p className="mt-4 text-lg">
        <strong>{money(data.payment, currency)}</strong> a payment, {money(data.totals.interest, currency)} interest in
        all{data.apr && `, ${rateText(data.apr)}% annual percentage rate`}; paid off in{" "}
        <strong>{monthOf(data.paid_off)}</strong>.
      </p>
      <LoanView
        answer={data}
        source={{ loan: terms, currency }}
        settled={[]}
        begin={terms.disbursed ?? today}
        opening={data.totals.principal + data.totals.extra}
        today={today}
        currency={currency}
      />
    </>
  );
}
