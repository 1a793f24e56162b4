import { keepPreviousData } from "@tanstack/react-query";
import { useState } from "react";
import { useParams } from "react-router";
import { useLoanPage } from "@/places/debts/loan/useLoanPage";
import { type Schemas, server } from "@/shared/api/client";
import { useSave } from "@/shared/api/hooks";
import { dayText, digits, money, monthOf, readRate } from "@/shared/format";
import { BackLink } from "@/shared/kit/BackLink";
import { Button } from "@/shared/kit/Button";
import { Field } from "@/shared/kit/fields/Field";
import { Missing } from "@/shared/kit/Missing";
import { useToast } from "@/shared/kit/Toast";
import { EscrowActs } from "./EscrowActs";
import { EscrowLetter, type Letter, readLetter } from "./EscrowLetter";

export type Escrow = Schemas["EscrowAnswer"];

/** The escrow account of a loan: what is paid from it, whether it covers that, and the lender's yearly analysis. */
export function EscrowPage() {
  const { id = "" } = useParams();
  const page = useLoanPage(id);
  const loan = page.data?.account;
  const escrow = loan?.loan?.escrow_account;
  return (
    <div className="mx-auto max-w-6xl px-4 py-4 md:px-6">
      <BackLink to={`/debts/${encodeURIComponent(id)}`} name={loan?.name ?? "The loan"} />
      {page.error && <Missing error={page.error} />}
      {loan && !escrow && (
        <p className="py-4 text-lg">
          This loan feeds no escrow account. Change the loan, give the escrow part of its payments, and let an account
          be made for it; what is paid from it is planned as bills of that account.
        </p>
      )}
      {loan && escrow && <Ahead loan={loan} id={escrow} />}
    </div>
  );
}

function Ahead({ loan, id }: { loan: Schemas["Account"]; id: string }) {
  const [cushion, setCushion] = useState("2");
  const [letter, setLetter] = useState<Letter>({});
  const currency = loan.currency ?? "USD";
  const said = readLetter(letter, currency);
  const months = readRate(cushion);
  const isRead = "rate" in months && !months.rate.startsWith("-");
  const { data, error } = server.useQuery(
    "get",
    "/api/escrow/{id}",
    { params: { path: { id }, query: { cushion_months: "rate" in months ? months.rate : "", ...said } } },
    { enabled: isRead, retry: false, placeholderData: keepPreviousData },
  );
  const problem = isRead ? error?.message : "Write a number such as 2.";
  return (
    <>
      <h1 className="text-xl">{data?.name ?? "Escrow"}</h1>
      {data && (
        <>
          <AtAGlance data={data} />
          {data.spent && <Spent spent={data.spent} currency={data.currency} />}
          <EscrowActs loan={loan} data={data} />
          <ComingPayments data={data} />
          <section aria-label="The yearly analysis" className="mt-8">
            <h2 className="border-b border-rule-strong text-lg">
              The yearly analysis, as the lender should work it out
            </h2>
            <Field label="Cushion, in months of deposits" problem={problem} className="mt-2 w-60">
              {(ids) => (
                <input
                  {...ids}
                  inputMode="decimal"
                  value={cushion}
                  onChange={(event) => setCushion(event.target.value)}
                  className="field !w-24 text-right"
                />
              )}
            </Field>
            <Outcome data={data} />
            <EscrowLetter data={data} letter={letter} onChange={setLetter} />
            <Months data={data} />
          </section>
        </>
      )}
      {!data && error && <p role="alert">{error.message}</p>}
    </>
  );
}

function AtAGlance({ data }: { data: Escrow }) {
  const { currency, uncovered, today } = data;
  return (
    <>
      <p className="mt-1 text-lg">
        <strong>{money(data.balance, currency)}</strong> there today; {money(data.deposit, currency)} a month comes with
        the payments.
      </p>
      {uncovered ? (
        <p className="mt-1 border-l-2 border-rust pl-3">
          On <strong>{dayText(uncovered.day, today)}</strong> it is{" "}
          <strong>{money(uncovered.short_by, currency)}</strong> short of “{uncovered.name}”: the lender advances that,
          and asks for it later.
        </p>
      ) : (
        data.payments.length > 0 && <p className="mt-1 text-pencil">It covers all that is planned from it.</p>
      )}
    </>
  );
}

/** What went out as spent before there was the account: put into it at once, if wanted. */
function Spent({ spent, currency }: { spent: NonNullable<Escrow["spent"]>; currency: string }) {
  const save = useSave();
  const toast = useToast();
  const put = () =>
    save.mutate(spent.changes, {
      onSuccess: () => toast("Put into escrow"),
      onError: (error) => toast(error.message),
    });
  return (
    <div className="mt-3 border-l-2 border-copper pl-3">
      <p>
        {money(spent.amount, currency)} of escrow in{" "}
        {spent.payments === 1 ? "one payment" : `${spent.payments} payments`} is recorded as spent, not as put into this
        account.
      </p>
      <Button className="mt-1" onClick={put}>
        Put it into this account
      </Button>
    </div>
  );
}

function ComingPayments({ data }: { data: Escrow }) {
  const { currency, today } = data;
  if (data.payments.length === 0)
    return (
      <p className="mt-3 text-pencil">
        Nothing is planned from it: add property tax and insurance as bills of this account.
      </p>
    );
  return (
    <section aria-label="Paid from it" className="mt-5 max-w-3xl">
      <h2 className="border-b border-rule-strong text-lg">Paid from it</h2>
      <table className="w-full border-collapse text-right">
        <thead>
          <tr className="text-sm text-pencil [&>th]:py-1 [&>th]:font-normal">
            <th className="text-left">Day</th>
            <th className="text-left">What</th>
            <th>Amount</th>
            <th>Then there</th>
          </tr>
        </thead>
        <tbody>
          {data.payments.map((payment) => (
            <tr key={`${payment.flow}/${payment.day}/${payment.balance}`} className="border-t border-rule pencilled">
              <td className="py-1 text-left">{dayText(payment.day, today)}</td>
              <td className="text-left">{payment.name}</td>
              <td>{digits(payment.amount, currency)}</td>
              <td className={payment.balance < 0 ? "text-rust" : ""}>{digits(payment.balance, currency)}</td>
            </tr>
          ))}
        </tbody>
      </table>
    </section>
  );
}

function Outcome({ data }: { data: Escrow }) {
  const { analysis, currency } = data;
  const first = analysis.rows[0];
  if (!first) return null;
  const differs = [
    ["short by", analysis.shortage],
    ["below zero by", analysis.deficiency],
    ["over by", analysis.surplus],
  ] as const;
  return (
    <>
      <p className="mt-2">
        As {monthOf(first.month)} begins, {money(analysis.required_start, currency)} should be there: the lowest month
        from zero, {money(analysis.lowest_trial, currency)}, turned round, and a cushion of{" "}
        {money(analysis.cushion, currency)}. Expected then: {money(data.starts, currency)}
        {differs
          .filter(([, amount]) => amount > 0)
          .map(([word, amount]) => (
            <span key={word}>
              , {word} <strong>{money(amount, currency)}</strong>
            </span>
          ))}
        .
      </p>
      <p className="mt-1">
        The next deposit is <strong>{money(analysis.new_deposit, currency)}</strong> a month; it is{" "}
        {money(data.deposit, currency)} now.
      </p>
      {analysis.notes.map((note) => (
        <p key={note} className="mt-1 text-pencil">
          {note}
        </p>
      ))}
    </>
  );
}

function Months({ data }: { data: Escrow }) {
  const { analysis, currency } = data;
  return (
    <table aria-label="Twelve months of escrow" className="mt-4 w-full border-collapse text-right">
      <thead>
        <tr className="border-b border-rule-strong text-sm text-pencil [&>th]:py-1 [&>th]:font-normal">
          <th className="text-left">Month</th>
          <th className="hidden @2xl:table-cell">Deposit</th>
          <th>Paid out</th>
          <th className="hidden @2xl:table-cell">From zero</th>
          <th>Should be there</th>
          <th>Expected</th>
        </tr>
      </thead>
      <tbody>
        {analysis.rows.map((row) => (
          <tr key={row.month} className="border-b border-rule">
            <td className="py-1 text-left">{monthOf(row.month)}</td>
            <td className="hidden @2xl:table-cell">{digits(row.deposit, currency)}</td>
            <td>{row.disbursed ? digits(row.disbursed, currency) : ""}</td>
            <td
              className={`hidden @2xl:table-cell ${row.trial === analysis.lowest_trial ? "font-semibold" : "text-pencil"}`}
            >
              {digits(row.trial, currency)}
            </td>
            <td>{digits(row.required, currency)}</td>
            <td className={`pencilled ${row.projected < 0 ? "text-rust" : ""}`}>{digits(row.projected, currency)}</td>
          </tr>
        ))}
      </tbody>
      <tfoot>
        <tr className="font-semibold">
          <td className="py-1 text-left">In the year</td>
          <td className="hidden @2xl:table-cell" />
          <td>{digits(analysis.annual_disbursements, currency)}</td>
          <td className="hidden @2xl:table-cell" />
          <td />
          <td />
        </tr>
      </tfoot>
    </table>
  );
}
