import { Download, Printer } from "lucide-react";
import { useParams } from "react-router";
import type { Schemas } from "@/shared/api/client";
import { dayText, howMany, money, monthOf, rateText } from "@/shared/format";
import { BackLink } from "@/shared/kit/BackLink";
import { Button } from "@/shared/kit/Button";
import { Missing } from "@/shared/kit/Missing";
import { PageLink } from "@/shared/kit/PageLink";
import { useView } from "@/shared/view";
import { LoanView } from "./LoanView";
import { useLoanPage } from "./useLoanPage";

/** A loan of the household: what is owed, what it costs, when it ends, and what would change that. */
export function LoanPage() {
  const { id = "" } = useParams();
  const { data, error } = useLoanPage(id);
  return (
    <div className="mx-auto max-w-6xl px-4 py-4 md:px-6">
      <BackLink to="/debts" name="Debts" />
      {error && <Missing error={error} />}
      {data && <Loan page={data} />}
    </div>
  );
}

function Loan({ page }: { page: Schemas["LoanPage"] }) {
  const { openSlip } = useView();
  const { account, currency, today } = page;
  const owed = -account.opening.balance;
  const last = page.rows.at(-1);
  return (
    <>
      <div className="flex flex-wrap items-center gap-x-4 gap-y-2">
        <h1 className="text-xl">{account.name}</h1>
        <Button className="!min-h-9" onClick={() => openSlip("loan", account.id)}>
          Change the terms
        </Button>
        <PageLink to={`/debts/${encodeURIComponent(account.id)}/statement`}>Statement check</PageLink>
        {account.loan?.escrow_account && (
          <PageLink to={`/debts/${encodeURIComponent(account.id)}/escrow`}>Escrow</PageLink>
        )}
        <Outputs query={`account=${encodeURIComponent(account.id)}`} />
      </div>
      <p className="mt-1">
        <strong>{money(page.owed, currency)}</strong> owed today, {money(page.paid_down, currency)} of it paid down;{" "}
        {rateText(account.loan?.annual_rate)}% a year; the next payment is {money(page.next_payment, currency)}
        {page.next_payment !== page.next_principal_and_interest &&
          `, of it ${money(page.next_principal_and_interest, currency)} principal and interest`}
        {last && page.owed > 0 && !page.never_ends && (
          <>
            ; {howMany(page.payments_left, "payment")} left, paid off in <strong>{monthOf(page.paid_off)}</strong>
          </>
        )}
        .{page.saves && page.saves.payments > 0 && ` Its extras save ${money(page.saves.interest, currency)}.`}
      </p>
      {page.lender && (
        <p className="mt-1 text-pencil">
          Paid to {page.lender.name} since {dayText(page.lender.since, today)}
          {page.lender.address && `, ${page.lender.address}`}
          {page.lender.fee > 0 && `; ${money(page.lender.fee, currency)} is charged with each payment`}.
        </p>
      )}
      <LoanView
        answer={page}
        source={{ account: account.id }}
        settled={page.settled}
        begin={account.opening.date}
        opening={owed}
        today={today}
        currency={currency}
      />
    </>
  );
}

/** The schedule on paper and in files. */
export function Outputs({ query }: { query: string }) {
  const look = "inline-flex min-h-9 items-center gap-1.5 rounded-sm px-2 text-copper hover:bg-hover";
  return (
    <span className="ml-auto flex flex-wrap">
      <a href={`/api/debts/schedule.csv?${query}`} download className={look}>
        <Download size={16} aria-hidden /> CSV
      </a>
      <a href={`/api/debts/schedule.xlsx?${query}`} download className={look}>
        <Download size={16} aria-hidden /> Workbook
      </a>
      <a href={`/print/loan?${query}`} target="_blank" rel="noreferrer" className={look}>
        <Printer size={16} aria-hidden /> Print
      </a>
    </span>
  );
}
