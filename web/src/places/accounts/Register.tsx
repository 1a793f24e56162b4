import { keepPreviousData, useQuery } from "@tanstack/react-query";
import { useVirtualizer } from "@tanstack/react-virtual";
import { ArrowLeft } from "lucide-react";
import { Link, useParams } from "react-router";
import { answer, api, type Schemas } from "@/shared/api/client";
import { useAccounts, useEntryChoices, useHousehold } from "@/shared/api/hooks";
import { dayText, digits, money } from "@/shared/format";
import { Button } from "@/shared/kit/Button";
import { Select } from "@/shared/kit/Select";
import { keptSearch, useView } from "@/shared/view";

type Row = Schemas["RegisterRow"];

const GRID =
  "grid grid-cols-[5rem_minmax(0,1fr)_auto] gap-x-3 @2xl:grid-cols-[8rem_minmax(0,1fr)_minmax(0,1fr)_8rem_8rem]";

/** What was recorded on one account, newest first, with the balance after each entry. */
export function Register() {
  const { id = "" } = useParams();
  const view = useView();
  const account = useAccounts().data?.accounts.find((row) => row.account.id === id)?.account;
  const { search, category } = view.filters;
  const { data, error } = useQuery({
    queryKey: ["register", id, search, category],
    placeholderData: keepPreviousData,
    queryFn: ({ signal }) =>
      answer<Schemas["RegisterAnswer"]>(
        api.GET("/api/register", { params: { query: { account: id, search, category } }, signal }),
      ),
  });
  return (
    <div className="mx-auto max-w-6xl px-4 py-4 md:px-6">
      <Link
        to={{ pathname: "/accounts", search: keptSearch(view.search) }}
        className="inline-flex min-h-8 items-center gap-1 text-sm text-pencil hover:underline"
      >
        <ArrowLeft size={15} aria-hidden /> Accounts
      </Link>
      <div className="mb-2 flex flex-wrap items-center gap-x-4 gap-y-2">
        <h1 className="text-xl">{account?.name ?? "Register"}</h1>
        <Button look="main" className="!min-h-9" onClick={() => view.openSlip("entry", null, id)}>
          Record an entry
        </Button>
        <Filters />
      </div>
      {error && <p role="alert">{error.message}</p>}
      {data && <Rows answer={data} />}
    </div>
  );
}

function Filters() {
  const view = useView();
  const categories = useEntryChoices().data?.categories ?? [];
  return (
    <div className="ml-auto flex gap-2">
      <input
        type="search"
        aria-label="Search payee, category and notes"
        placeholder="Search…"
        value={view.filters.search}
        onChange={(event) => view.set({ q: event.target.value || null })}
        className="field w-44"
      />
      <Select
        label="Only one category"
        value={view.filters.category}
        onChange={(category) => view.set({ category: category || null })}
        options={[
          { value: "", label: "All categories" },
          ...categories.map(({ id, name }) => ({ value: id, label: name })),
        ]}
        className="field !w-48"
      />
    </div>
  );
}

function Rows({ answer: { rows, currency, total } }: { answer: Schemas["RegisterAnswer"] }) {
  const today = useHousehold().data?.today ?? "";
  const virtual = useVirtualizer({
    count: rows.length,
    getScrollElement: () => document.getElementById("page"),
    estimateSize: () => 40,
    overscan: 16,
    getItemKey: (place) => rows[place]?.id ?? place,
  });
  if (rows.length === 0) return <p className="py-3">Nothing is recorded here that matches.</p>;
  return (
    <section aria-label="Entries">
      <p className="text-sm text-pencil">
        {rows.length === 1 ? "1 entry" : `${rows.length.toLocaleString("en")} entries`}, {money(total, currency)} in all
      </p>
      <div
        aria-hidden="true"
        className={`${GRID} sticky top-0 z-10 border-b border-rule-strong bg-paper py-1 text-sm text-pencil`}
      >
        <span>Day</span>
        <span>Payee</span>
        <span className="hidden @2xl:block">For</span>
        <span className="text-right">Amount</span>
        <span className="hidden text-right @2xl:block">Balance</span>
      </div>
      <ol className="relative" style={{ height: virtual.getTotalSize() }}>
        {virtual.getVirtualItems().map((item) => {
          const row = rows[item.index];
          return (
            row && (
              <li
                key={row.id}
                data-index={item.index}
                ref={virtual.measureElement}
                className="absolute inset-x-0 border-b border-rule"
                style={{ transform: `translateY(${item.start}px)` }}
              >
                <EntryLine row={row} today={today} currency={currency} />
              </li>
            )
          );
        })}
      </ol>
    </section>
  );
}

function EntryLine({ row, today, currency }: { row: Row; today: string; currency: string }) {
  const { openSlip } = useView();
  return (
    <button
      type="button"
      onClick={() => openSlip("entry", row.id)}
      className={`${GRID} min-h-10 w-full items-center text-left hover:bg-hover`}
    >
      <span className="whitespace-nowrap">{dayText(row.date, today)}</span>
      <span className="truncate">
        {row.payee || "No payee"}
        <span className="block truncate text-sm text-pencil @2xl:hidden">{row.other}</span>
      </span>
      <span className="hidden truncate text-pencil @2xl:block">{row.other}</span>
      <span className={`text-right ${row.amount > 0 ? "text-teal" : ""}`}>
        {row.amount > 0 && "+"}
        {digits(row.amount, currency)}
        <span className="block text-sm text-pencil @2xl:hidden">{digits(row.balance, currency)}</span>
      </span>
      <span className="hidden text-right @2xl:block">{digits(row.balance, currency)}</span>
    </button>
  );
}
