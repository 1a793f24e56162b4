import { Link } from "react-router";
import { type Schemas, server } from "@/shared/api/client";
import { useAccounts } from "@/shared/api/hooks";
import { dayText, howMany, money, monthOf, monthsText, rateText } from "@/shared/format";
import { Button } from "@/shared/kit/Button";
import { PageLink } from "@/shared/kit/PageLink";
import { ShareBar } from "@/shared/kit/ShareBar";
import { keptSearch, useView } from "@/shared/view";
import { CardTable } from "./cards/CardTable";
import { DebtFall } from "./DebtFall";
import { useRecordedWhole, WholeNotice } from "./mortgage/RecordedWhole";
import { HowItGoes } from "./way/WayProgress";
import { useProgress } from "./way/wayOut";

type Answer = Schemas["DebtsAnswer"];
type Row = Schemas["LoanRowModel"];

/** Every loan: what is owed, what it costs, when it ends. */
export function Debts() {
  const { openSlip } = useView();
  const data = server.useQuery("get", "/api/debts").data;
  const accounts = useAccounts().data?.accounts ?? [];
  const hasProperty = accounts.some(({ account }) => account.loan?.property || account.loan?.escrow_account);
  // What stands above the tables is there with them: nothing moves down once one reads.
  const isAwaited = [useProgress(), useRecordedWhole()].some(({ isLoading }) => isLoading);
  if (!data || isAwaited) return null;
  return (
    <div className="mx-auto max-w-6xl px-4 py-4 md:px-6">
      <div className="flex flex-wrap items-baseline gap-x-4">
        <h1 className="text-xl">Debts</h1>
        <Button look="link" onClick={() => openSlip("loan", null)}>
          Add a loan
        </Button>
        <Button look="link" onClick={() => openSlip("account", null, "credit_card")}>
          Add a card or line
        </Button>
        <PageLink to="/debts/try">Try a loan</PageLink>
        {data.owed > 0 && <PageLink to="/debts/way-out">The way out</PageLink>}
        {data.loans.length > 0 && <PageLink to="/debts/years">Interest and tax by year</PageLink>}
        {hasProperty && <PageLink to="/debts/properties">Properties</PageLink>}
      </div>
      {data.loans.length === 0 && data.cards.length === 0 ? (
        <p className="py-4 text-lg">
          No debts here. Add a loan or a card with what is owed today, and see when it ends and what it costs; or try a
          loan before signing anything.
        </p>
      ) : (
        <>
          <Whole data={data} />
          <PlanGoes today={data.today} />
          <WholeNotice />
          {data.notes.map((note) => (
            <p key={note} className="mt-1 border-l-2 border-rust pl-3">
              {note}
            </p>
          ))}
          {data.loans.length > 0 && (
            <>
              <DebtFall balances={data.balances} today={data.today} currency={data.currency} />
              <LoanTable loans={data.loans} totals={data.loan_totals} currency={data.currency} today={data.today} />
            </>
          )}
          {data.cards.length > 0 && (
            <CardTable cards={data.cards} totals={data.card_totals} currency={data.currency} today={data.today} />
          )}
          {data.loans.length > 0 && <Years data={data} />}
        </>
      )}
    </div>
  );
}

function Whole({ data }: { data: Answer }) {
  const { currency, this_month: month, next_twelve: twelve } = data;
  return (
    <p className="mt-1 text-lg">
      <strong>{money(data.owed, currency)}</strong> owed today
      {data.debt_free && (
        <>
          ; the last loan ends in <strong>{monthOf(data.debt_free)}</strong>
        </>
      )}
      .{" "}
      <span className="text-base text-pencil">
        {data.loans.length > 0 &&
          `On loans, this month ${money(month.principal, currency)} principal and ${money(month.interest, currency)} interest; in the next twelve months ${money(twelve.principal, currency)} and ${money(twelve.interest, currency)}. `}
        {data.lines_available !== null && `Lines may still lend ${money(data.lines_available, currency)}.`}
      </span>
    </p>
  );
}

/** The plan that was adopted, in a sentence. */
function PlanGoes({ today }: { today: string }) {
  const { search } = useView();
  const progress = useProgress().data?.progress;
  if (!progress) return null;
  return (
    <p className="mt-1">
      <Link to={{ pathname: "/debts/way-out", search: keptSearch(search) }} className="text-copper hover:underline">
        The way out
      </Link>
      : <HowItGoes progress={progress} today={today} />.
    </p>
  );
}

interface LoanTableProps {
  loans: Row[];
  totals: Answer["loan_totals"];
  currency: string;
  today: string;
}

function LoanTable({ loans, totals, currency, today }: LoanTableProps) {
  return (
    <table aria-label="Loans" className="mt-3 w-full border-collapse">
      <thead>
        <tr className="border-b border-rule-strong text-right text-sm text-pencil [&>th]:py-1 [&>th]:font-normal">
          <th className="text-left">Loan</th>
          <th>Owed now</th>
          <th className="hidden @2xl:table-cell">Rate</th>
          <th className="hidden @2xl:table-cell">Payment</th>
          <th className="hidden pl-4 @4xl:table-cell">Paid down</th>
          <th className="hidden @4xl:table-cell">Interest to come</th>
          <th>Ends</th>
        </tr>
      </thead>
      <tbody>
        {loans.map((loan) => (
          <LoanLine key={loan.id} loan={loan} today={today} />
        ))}
      </tbody>
      {loans.length > 1 && (
        <tfoot>
          <tr className="text-right align-baseline [&>td]:py-2">
            <th scope="row" className="text-left font-semibold">
              All loans
            </th>
            <td className="font-semibold">{money(totals.owed, currency)}</td>
            <td className="hidden @2xl:table-cell" />
            <td className="hidden @2xl:table-cell">
              {money(totals.monthly, currency)}
              <span className="block text-sm text-pencil">a month</span>
            </td>
            <td className="hidden pl-4 @4xl:table-cell">
              {money(totals.paid_down, currency)}
              <span className="block text-sm text-pencil">of {money(totals.original, currency)}</span>
            </td>
            <td className="hidden @4xl:table-cell">{money(totals.interest_left, currency)}</td>
            <td />
          </tr>
        </tfoot>
      )}
    </table>
  );
}

function LoanLine({ loan, today }: { loan: Row; today: string }) {
  const { search } = useView();
  const { currency } = loan;
  return (
    <tr className="border-b border-rule text-right align-baseline">
      <td className="py-2 text-left">
        <Link
          to={{ pathname: `/debts/${encodeURIComponent(loan.id)}`, search: keptSearch(search) }}
          className="font-semibold hover:underline"
        >
          {loan.name}
        </Link>
        <span className="block text-sm text-pencil">
          {loan.next_due ? `next ${dayText(loan.next_due, today)}` : "paid off"}
        </span>
      </td>
      <td className="font-semibold">{money(loan.owed, currency)}</td>
      <td className="hidden @2xl:table-cell">{rateText(loan.annual_rate)}%</td>
      <td className="hidden @2xl:table-cell">
        {money(loan.payment, currency)}
        {loan.principal_and_interest !== loan.payment && (
          <span className="block text-sm text-pencil">
            {money(loan.principal_and_interest, currency)} principal and interest
          </span>
        )}
      </td>
      <td className="hidden pl-4 @4xl:table-cell">
        {money(loan.paid_down, currency)}
        <ShareBar percent={loan.paid_down_percent} className="mt-1 ml-auto w-28" />
        <span className="text-sm text-pencil">
          {loan.paid_down_percent}% of {money(loan.original, currency)}
        </span>
      </td>
      <td className="hidden @4xl:table-cell">{money(loan.interest_left, currency)}</td>
      <td className="whitespace-nowrap pencilled">
        {loan.never_ends ? "never, as it is" : loan.paid_off ? monthOf(loan.paid_off) : "–"}
        {loan.months_left !== null && (
          <span className="block text-sm">
            {monthsText(loan.months_left)}, {howMany(loan.payments_left, "payment")}
          </span>
        )}
      </td>
    </tr>
  );
}

/** Year by year across the loans' lives: recorded in ink, what is to come in pencil. */
function Years({ data }: { data: Answer }) {
  const { currency } = data;
  const thisYear = Number(data.today.slice(0, 4));
  return (
    <section aria-label="Year by year" className="mt-8">
      <h2 className="text-lg">Year by year</h2>
      <table className="w-full border-collapse text-right">
        <thead>
          <tr className="border-b border-rule-strong text-sm text-pencil [&>th]:py-1 [&>th]:font-normal">
            <th className="text-left">Year</th>
            <th>Paid, as recorded</th>
            <th>Principal to come</th>
            <th>Interest to come</th>
            <th className="hidden @2xl:table-cell">Running total</th>
          </tr>
        </thead>
        <tbody>
          {data.years.map((year) => (
            <tr key={year.year} className={`border-b border-rule ${year.year <= thisYear ? "" : "pencilled"}`}>
              <td className="py-1 text-left">{year.year}</td>
              <td>{year.recorded ? money(year.recorded, currency) : ""}</td>
              <td className="pencilled">{year.principal ? money(year.principal, currency) : ""}</td>
              <td className="pencilled">{year.interest ? money(year.interest, currency) : ""}</td>
              <td className="hidden @2xl:table-cell">{money(year.paid_so_far, currency)}</td>
            </tr>
          ))}
        </tbody>
      </table>
    </section>
  );
}
