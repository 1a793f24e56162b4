import { keepPreviousData } from "@tanstack/react-query";
import { useVirtualizer } from "@tanstack/react-virtual";
import { useState } from "react";
import { useParams } from "react-router";
import { type Schemas, server } from "@/shared/api/client";
import { useAccounts, useEntryChoices, useHousehold } from "@/shared/api/hooks";
import { exportQuery } from "@/shared/csv/exportQuery";
import { counted, dayText, money, plusDays } from "@/shared/format";
import { Alert } from "@/shared/kit/Alert";
import { BackLink } from "@/shared/kit/BackLink";
import { Button } from "@/shared/kit/Button";
import { AddressField } from "@/shared/kit/fields/AddressField";
import { Select } from "@/shared/kit/fields/Select";
import { PageLink } from "@/shared/kit/PageLink";
import { useView } from "@/shared/view";
import { BankSays } from "./bank/BankSays";
import { useReadings } from "./bank/useReadings";
import { EntryInline } from "./entry/EntryInline";
import { EntryLine, GRID } from "./entry/EntryLine";

/** What was recorded on one account, or on all, newest first, with the balance after each entry. */
export function Register() {
  const { id } = useParams();
  const view = useView();
  const accounts = useAccounts();
  const row = accounts.data?.accounts.find(({ account }) => account.id === id);
  const account = row?.account;
  const readings = useReadings(id, row?.has_bank ?? false);
  // Entries that came before what stands above them would be pushed down by it.
  const isAboveThere = !accounts.isPending && !(row?.has_bank && readings.isPending);
  const { search, category } = view.filters;
  // Days of its own come first; else the stretch picked on the tideline.
  const from = view.filters.from || view.period?.from;
  const until = view.filters.until || view.period?.until;
  const query = { ...(id && { account: id }), search, category, ...(from && { from }), ...(until && { until }) };
  const { data, error } = server.useQuery(
    "get",
    "/api/register",
    { params: { query } },
    { placeholderData: keepPreviousData },
  );
  return (
    <div className="mx-auto max-w-6xl px-4 py-4 md:px-6">
      <BackLink to="/accounts" name="Accounts" />
      <div className="mb-2 flex flex-wrap items-center gap-x-4 gap-y-2">
        <h1 className="text-xl">{account?.name ?? (id ? "Register" : "All accounts")}</h1>
        <Button look="main" className="!min-h-9" onClick={() => view.openSlip("entry", null, id ?? "")}>
          Record an entry
        </Button>
        {row?.has_bank && (
          <PageLink to={`/accounts/${encodeURIComponent(row.account.id)}/statements`}>Statements</PageLink>
        )}
        <Files account={account?.id} from={from} until={until} query={query} />
        {account?.savings && <PageLink to={`/accounts/${encodeURIComponent(account.id)}/interest`}>Interest</PageLink>}
        <Filters />
      </div>
      {row?.has_bank && <BankSays key={row.account.id} row={row} />}
      <Alert error={error} />
      {data && isAboveThere && <Rows answer={data} />}
    </div>
  );
}

interface FilesProps {
  account: string | undefined;
  from: string | undefined;
  until: string | undefined;
  query: Record<string, string>;
}

/** The register as files: a table of what is on the screen, and of one account what other programs take in. */
function Files({ account, from, until, query }: FilesProps) {
  const shown = exportQuery(query);
  const days = new URLSearchParams({ ...(from && { from }), ...(until && { to: until }) });
  const look = "inline-flex min-h-10 items-center rounded-sm px-2 text-copper hover:bg-hover";
  return (
    <>
      <a href={`/api/export/register.csv?${shown}`} download className={look}>
        As a table
      </a>
      {account !== undefined && (
        <a href={`/api/export/entries.ofx?account=${encodeURIComponent(account)}&${days}`} download className={look}>
          As OFX
        </a>
      )}
    </>
  );
}

const yearOf = (today: string, back: number) => Number(today.slice(0, 4)) - back;
const PRESETS: { label: string; days: (today: string) => [string, string] }[] = [
  { label: "All days", days: () => ["", ""] },
  { label: "30 days", days: (today) => [plusDays(today, -29), today] },
  { label: "90 days", days: (today) => [plusDays(today, -89), today] },
  { label: "This year", days: (today) => [`${yearOf(today, 0)}-01-01`, `${yearOf(today, 0)}-12-31`] },
  { label: "Last year", days: (today) => [`${yearOf(today, 1)}-01-01`, `${yearOf(today, 1)}-12-31`] },
];

function Filters() {
  const view = useView();
  const today = useHousehold().data?.today ?? "";
  const categories = useEntryChoices().data?.categories ?? [];
  return (
    <div className="grid w-full grid-cols-[1fr_auto_1fr] items-center gap-2 text-sm text-pencil md:ml-auto md:flex md:w-auto">
      <Select
        label="Days that are often asked for"
        value=""
        placeholder="Days…"
        onChange={(name) => {
          const [since, to] = PRESETS[Number(name)]?.days(today) ?? ["", ""];
          view.set({ since: since || null, to: to || null });
        }}
        options={PRESETS.map((preset, place) => ({ value: String(place), label: preset.label }))}
        className="field col-span-3 min-w-0 md:!w-28"
      />
      <span className="hidden md:inline">From</span>
      <AddressField
        type="date"
        aria-label="From day"
        saved={view.filters.from}
        onSettled={(since) => view.set({ since: since || null })}
        className="field min-w-0 md:!w-40"
      />
      to
      <AddressField
        type="date"
        aria-label="Until day"
        saved={view.filters.until}
        onSettled={(to) => view.set({ to: to || null })}
        className="field min-w-0 md:!w-40"
      />
      <AddressField
        type="search"
        aria-label="Search payee, category, tags and notes"
        placeholder="Search…"
        saved={view.filters.search}
        onSettled={(q) => view.set({ q: q || null })}
        className="field min-w-0 md:!w-36"
      />
      <Select
        label="Only one category"
        value={view.filters.category}
        onChange={(category) => view.set({ category: category || null })}
        options={[
          { value: "", label: "All categories" },
          ...categories.map(({ id, name }) => ({ value: id, label: name })),
        ]}
        className="field col-span-2 min-w-0 md:!w-44"
      />
    </div>
  );
}

function Rows({ answer }: { answer: Schemas["RegisterAnswer"] }) {
  const { rows, account, currency } = answer;
  const today = useHousehold().data?.today ?? "";
  const known = new Map(useAccounts().data?.accounts.map((oneAccount) => [oneAccount.account.id, oneAccount.account]));
  const [editing, setEditing] = useState<string | null>(null);
  const [chosen, setChosen] = useState<string[]>([]);
  const toggle = (id: string) =>
    setChosen((before) => (before.includes(id) ? before.filter((other) => other !== id) : [...before, id]));
  const virtual = useVirtualizer({
    count: rows.length,
    getScrollElement: () => document.getElementById("page"),
    estimateSize: () => 40,
    overscan: 16,
    getItemKey: (place) => keyOf(rows[place]) ?? place,
  });
  if (rows.length === 0) return <p className="py-3">Nothing is recorded here that matches.</p>;
  return (
    <section aria-label="Entries">
      <Summary answer={answer} chosen={chosen} />
      <div
        aria-hidden="true"
        className={`${GRID} sticky top-0 z-10 border-b border-rule-strong bg-paper py-1 text-sm text-pencil @2xl:pr-10 @2xl:pl-7`}
      >
        <span>Day</span>
        <span>Payee</span>
        <span className="hidden @2xl:block">{account === null ? "Account" : "For"}</span>
        <span className="text-right">Amount</span>
        <span className="hidden text-right @2xl:block">Balance</span>
      </div>
      <ol className="relative" style={{ height: virtual.getTotalSize() }}>
        {virtual.getVirtualItems().map((item) => {
          const row = rows[item.index];
          return (
            row && (
              <li
                key={keyOf(row)}
                data-index={item.index}
                ref={virtual.measureElement}
                className="absolute inset-x-0 border-b border-rule"
                style={{ transform: `translateY(${item.start}px)` }}
              >
                {editing === keyOf(row) ? (
                  <EntryInline id={row.id} onClose={() => setEditing(null)} />
                ) : (
                  <EntryLine
                    row={row}
                    today={today}
                    currency={known.get(row.account)?.currency ?? currency}
                    account={account === null ? known.get(row.account)?.name : undefined}
                    isChosen={chosen.includes(row.id)}
                    onChoose={() => toggle(row.id)}
                    onEdit={() => setEditing(keyOf(row) ?? null)}
                  />
                )}
              </li>
            )
          );
        })}
      </ol>
    </section>
  );
}

/** What moves between two accounts stands on each of them. */
const keyOf = (row: Schemas["RegisterRow"] | undefined) => row && `${row.id} ${row.account}`;

interface SummaryProps {
  answer: Schemas["RegisterAnswer"];
  chosen: string[];
}

/** How many entries are shown and what they come to, and what can be made of those that are chosen. */
function Summary({ answer: { rows, currency, total, opening }, chosen }: SummaryProps) {
  const today = useHousehold().data?.today ?? "";
  const { openSlip } = useView();
  // What settled a flow already leads to that flow: another one would count it twice.
  const flow = rows.find((row) => chosen.includes(row.id) && row.flow)?.flow;
  return (
    <p className="flex min-h-9 items-center gap-4 text-sm text-pencil">
      {rows.length === 1 ? "1 entry" : `${counted(rows.length)} entries`}
      {total !== null && `, ${money(total, currency)} in all`}
      {opening &&
        `, without the opening balance of ${money(opening.balance, currency)} on ${dayText(opening.date, today)}`}
      {chosen.length > 0 && flow && (
        <Button look="main" className="!min-h-8" onClick={() => openSlip("flow", flow)}>
          Open the flow of {chosen.length === 1 ? "this" : "these"}
        </Button>
      )}
      {chosen.length > 0 && !flow && (
        <Button look="main" className="!min-h-8" onClick={() => openSlip("flow", null, ["seen", ...chosen].join("~"))}>
          Make a flow of {chosen.length === 1 ? "this" : `these ${chosen.length}`}
        </Button>
      )}
    </p>
  );
}
