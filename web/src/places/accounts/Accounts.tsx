import { Link } from "react-router";
import type { Schemas } from "@/shared/api/client";
import { useAccounts, useEntryChoices, useHousehold } from "@/shared/api/hooks";
import { dayText, money } from "@/shared/format";
import { Button } from "@/shared/kit/Button";
import { PageLink } from "@/shared/kit/PageLink";
import { keptSearch, useView } from "@/shared/view";
import { ACCOUNT_KINDS } from "./account/AccountSlip";
import { standing } from "./bank/KeptReadings";
import { useReadings } from "./bank/useReadings";
import { Categories } from "./categories/Categories";

type Row = Schemas["AccountRow"];

const KIND_NAMES: Record<string, string> = {
  loan: "Loan",
  ...Object.fromEntries(ACCOUNT_KINDS.map((kind) => [kind.value, kind.label])),
  asset: "Owned",
};
/** What has neither floor nor lowest point: what is owed, or cannot be spent. */
const isPlain = (account: Row["account"]) => !account.loan && !account.card && account.kind !== "asset";

/** The accounts: what each holds today, its floor and cushion, and its lowest point in the coming year. */
export function Accounts() {
  const { openSlip } = useView();
  const data = useAccounts().data;
  const household = useHousehold().data?.household;
  // They stand above the settings: who is about to press these presses what was there.
  const isAwaited = [useEntryChoices(), useReadings()].some(({ isPending }) => isPending);
  if (!data || !household || isAwaited) return null;
  return (
    <div className="mx-auto max-w-6xl px-4 py-4 md:px-6">
      <div className="flex flex-wrap items-baseline gap-x-4 border-b border-rule-strong">
        <h1 className="text-xl">Accounts</h1>
        <Button look="link" onClick={() => openSlip("account", null)}>
          Add an account
        </Button>
        {data.accounts.length > 1 && <PageLink to="/accounts/your/entries">Entries of all accounts</PageLink>}
        {data.accounts.length > 0 && <PageLink to="/accounts/your/bank-files">Files from a bank</PageLink>}
        <PageLink to="/accounts/your/connections">Connections</PageLink>
        <PageLink to="/accounts/your/lent">Money lent</PageLink>
        <PageLink to="/accounts/your/interest">Is the bank's interest right?</PageLink>
      </div>
      {data.accounts.length === 0 ? (
        <p className="py-3">Begin with the account that your bills are paid from, and its balance today.</p>
      ) : (
        <>
          <AccountTable rows={data.accounts.filter((row) => !row.is_closed)} today={data.today} />
          <Closed rows={data.accounts.filter((row) => row.is_closed)} />
        </>
      )}
      <Categories />
      <section aria-label="Household" className="mt-8 max-w-2xl">
        <h2 className="border-b border-rule-strong text-lg">Household</h2>
        <p className="py-2">
          {household.name || "No name yet"}. Totals in {household.currency};{" "}
          {household.country ? `bank holidays of ${household.country}` : "no bank holidays, weekends only"}; what is
          past due is {household.past_due === "carry" ? "expected today" : "left out of the forecast"}.
        </p>
        <div className="flex flex-wrap gap-2">
          <Button onClick={() => openSlip("household", "settings")}>Change these settings</Button>
          <PageLink to="/accounts/your/rates">Exchange rates</PageLink>
          <PageLink to="/accounts/your/data">Your data: backups, files, password</PageLink>
        </div>
      </section>
    </div>
  );
}

/** Accounts that are kept for their past alone. */
function Closed({ rows }: { rows: Row[] }) {
  const { openSlip, search } = useView();
  if (rows.length === 0) return null;
  return (
    <section aria-label="Closed accounts" className="mt-6">
      <h2 className="border-b border-rule text-base text-pencil">Closed</h2>
      <ul>
        {rows.map(({ account, today_balance }) => (
          <li key={account.id} className="flex items-baseline gap-4 border-b border-rule py-1.5">
            <button
              type="button"
              className="min-h-6 text-left hover:underline"
              onClick={() => openSlip(account.loan ? "loan" : "account", account.id)}
            >
              {account.name}
            </button>
            <Link
              to={{ pathname: `/accounts/${encodeURIComponent(account.id)}`, search: keptSearch(search) }}
              className="text-sm text-copper underline underline-offset-4"
            >
              Register<span className="sr-only"> of {account.name}</span>
            </Link>
            <span className="ml-auto text-right text-pencil">{money(today_balance, account.currency)}</span>
          </li>
        ))}
      </ul>
    </section>
  );
}

const debtPath = (account: Row["account"]) => `/debts/${account.card ? "cards/" : ""}${encodeURIComponent(account.id)}`;

function AccountTable({ rows, today }: { rows: Row[]; today: string }) {
  return (
    <table aria-label="Accounts" className="w-full border-collapse">
      <thead>
        <tr className="text-sm text-pencil [&>th]:py-1 [&>th]:font-normal">
          <th className="text-left">Account</th>
          <th className="text-right">Today</th>
          <th className="hidden text-right @2xl:table-cell">Floor</th>
          <th className="hidden text-right @2xl:table-cell">Cushion</th>
          <th className="text-right">Lowest in a year</th>
        </tr>
      </thead>
      <tbody>
        {rows.map((row) => (
          <AccountLine key={row.account.id} row={row} today={today} />
        ))}
      </tbody>
    </table>
  );
}

function AccountLine({ row, today }: { row: Row; today: string }) {
  const { openSlip, search } = useView();
  const { account, lowest } = row;
  const edit = () => openSlip(account.loan ? "loan" : "account", account.id);
  return (
    <tr className="cursor-pointer border-t border-rule align-baseline hover:bg-hover [&>td]:py-2" onClick={edit}>
      <td>
        <button
          type="button"
          className="text-left font-semibold"
          onClick={(event) => {
            event.stopPropagation();
            edit();
          }}
        >
          {account.name}
        </button>
        <Beneath row={row} today={today} />
      </td>
      <td className="pl-2 text-right whitespace-nowrap">{money(row.today_balance, account.currency)}</td>
      <td className="hidden text-right @2xl:table-cell">
        {isPlain(account) && money(account.floor ?? 0, account.currency)}
      </td>
      <td className="hidden text-right @2xl:table-cell">
        {isPlain(account) && money(account.cushion ?? 0, account.currency)}
      </td>
      <td className="text-right">
        {(account.loan || account.card) && (
          <Link
            to={{ pathname: debtPath(account), search: keptSearch(search) }}
            onClick={(event) => event.stopPropagation()}
            className="text-copper underline underline-offset-4"
          >
            {account.loan ? "When it ends" : "Statements and cost"}
          </Link>
        )}
        {lowest && isPlain(account) && (
          <>
            <span className={row.short_by ? "font-semibold text-rust" : "pencilled"}>
              {money(lowest.balance, account.currency)}
            </span>
            <span className="block text-sm text-pencil">
              {lowest.date === today ? "today" : dayText(lowest.date, today)}
            </span>
          </>
        )}
      </td>
    </tr>
  );
}

/** What is known of an account beside its name: its kind, where to go from here, and how far it agrees with the bank. */
function Beneath({ row, today }: { row: Row; today: string }) {
  const { search } = useView();
  const { account } = row;
  const known = useReadings().data?.find((reading) => reading.account === account.id);
  return (
    <span className="block text-sm text-pencil">
      {KIND_NAMES[account.kind]}, {row.flows === 1 ? "1 flow" : `${row.flows} flows`}
      <Link
        to={{ pathname: `/accounts/${encodeURIComponent(account.id)}`, search: keptSearch(search) }}
        onClick={(event) => event.stopPropagation()}
        className="ml-3 text-copper underline underline-offset-4"
      >
        Register<span className="sr-only"> of {account.name}</span>
      </Link>
      {row.waiting > 0 && (
        <Link
          to={{ pathname: "/settle", search: keptSearch(search) }}
          onClick={(event) => event.stopPropagation()}
          className="ml-3 text-copper underline underline-offset-4"
        >
          {row.waiting === 1 ? "1 line of the bank waits" : `${row.waiting} lines of the bank wait`}
        </Link>
      )}
      {row.reconciled_to && !(known && known.date > row.reconciled_to) && (
        <span className="ml-3">reconciled to {dayText(row.reconciled_to, today)}</span>
      )}
      {known && (known.difference !== 0 || !row.reconciled_to || known.date > row.reconciled_to) && (
        <span className="ml-3">
          {known.difference === 0 ? (
            `true on ${dayText(known.date, today)}`
          ) : (
            <>
              {dayText(known.date, today)}: {standing(known, row.is_debt)}
            </>
          )}
        </span>
      )}
    </span>
  );
}
