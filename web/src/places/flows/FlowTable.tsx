import { ArrowDown, ArrowUp } from "lucide-react";
import { type MouseEvent, useMemo, useState } from "react";
import type { Schemas } from "@/shared/api/client";
import { useAccounts } from "@/shared/api/hooks";
import { MonthStrip, stripMonths } from "@/shared/charts/MonthStrip";
import { AsCsv } from "@/shared/csv/AsCsv";
import { dayText, money } from "@/shared/format";
import { useView } from "@/shared/view";

type Row = Schemas["FlowRow"];
type Column = "name" | "next" | "amount" | "yearly";

/** What a flow comes to the next time; of one that has ended, what it came to. */
const shownAmount = ({ next, amount_now }: Pick<Row, "next" | "amount_now">) => next?.amount ?? amount_now;

const ORDERS: Record<Column, (one: Row, other: Row) => number> = {
  name: (one, other) => one.flow.name.localeCompare(other.flow.name),
  next: (one, other) => (one.next?.date ?? "9").localeCompare(other.next?.date ?? "9"),
  amount: (one, other) => shownAmount(other) - shownAmount(one),
  yearly: (one, other) => other.yearly - one.yearly,
};

interface Props {
  rows: Row[];
  today: string;
  label: string;
}

export function FlowTable({ rows, today, label }: Props) {
  const [sorting, setSorting] = useState<{ column: Column; isReversed: boolean } | null>(null);
  const sorted = useMemo(() => {
    if (!sorting) return rows;
    const ordered = [...rows].sort(ORDERS[sorting.column]);
    return sorting.isReversed ? ordered.reverse() : ordered;
  }, [rows, sorting]);
  const header = (column: Column, text: string, className = "") => (
    <SortHeader
      text={text}
      className={className}
      direction={sorting?.column === column ? (sorting.isReversed ? "descending" : "ascending") : "none"}
      onSort={() => setSorting({ column, isReversed: sorting?.column === column && !sorting.isReversed })}
    />
  );
  const accounts = useAccounts().data?.accounts;
  const { openSlip } = useView();
  const named = new Map(accounts?.map(({ account }) => [account.id, account.name]));
  const months = stripMonths(today);
  // One for all rows, so that a list of hundreds has nothing of its own to follow or to let go.
  const open = ({ target }: MouseEvent) => {
    const flow = (target as Element).closest("tr")?.dataset.flow;
    if (flow) openSlip("flow", flow);
  };
  return (
    <>
      <table aria-label={label} className="w-full table-fixed border-collapse">
        <colgroup>
          <col />
          <col className="hidden w-32 @4xl:table-column" />
          <col className="w-24 @2xl:w-28" />
          <col className="w-28 @2xl:w-32" />
          <col className="hidden w-32 @2xl:table-column" />
          <col className="hidden w-40 @5xl:table-column" />
        </colgroup>
        <thead>
          <tr className="text-left text-sm text-pencil">
            {header("name", "Name")}
            <th className="hidden font-normal @4xl:table-cell">Account</th>
            {header("next", "Next")}
            {header("amount", "Amount", "text-right")}
            {header("yearly", "In a year", "hidden text-right @2xl:table-cell")}
            <th className="hidden pl-6 font-normal @5xl:table-cell">Month by month</th>
          </tr>
        </thead>
        {/* biome-ignore lint/a11y/useKeyWithClickEvents: keys reach the button in each row */}
        <tbody onClick={open}>
          {sorted.map((row) => (
            <FlowRow key={row.flow.id} {...{ row, today, named, months }} />
          ))}
        </tbody>
      </table>
      <p className="text-right">
        <AsCsv
          name={label.toLowerCase().replaceAll(" ", "-")}
          of={label}
          headings={["name", "payee", "rhythm", "from", "to", "next", "amount", "currency", "in a year"]}
          rows={() =>
            sorted.map(({ flow, ...row }) => [
              flow.name,
              flow.payee ?? "",
              row.sentence,
              named.get(row.from_account_now ?? "") ?? "",
              named.get(row.to_account_now ?? "") ?? "",
              row.next?.date ?? null,
              { amount: shownAmount(row), currency: row.currency },
              row.currency,
              { amount: row.yearly, currency: row.currency },
            ])
          }
        />
      </p>
    </>
  );
}

interface SortHeaderProps {
  text: string;
  className: string;
  direction: "ascending" | "descending" | "none";
  onSort: () => void;
}

function SortHeader({ text, className, direction, onSort }: SortHeaderProps) {
  return (
    <th aria-sort={direction} className={`font-normal ${className}`}>
      <button
        type="button"
        onClick={onSort}
        className="inline-flex min-h-8 items-center gap-1 rounded-sm hover:text-ink"
      >
        {text}
        {direction === "ascending" && <ArrowDown size={13} aria-hidden />}
        {direction === "descending" && <ArrowUp size={13} aria-hidden />}
      </button>
    </th>
  );
}

interface RowProps {
  row: Row;
  today: string;
  named: Map<string, string>;
  months: string[];
}

/** One flow; a click anywhere on it opens it, as its button does. */
function FlowRow({ row, today, named, months }: RowProps) {
  const { flow, currency, next } = row;
  const accounts = [flow.from_account, flow.to_account].map((id) => named.get(id ?? "")).filter(Boolean);
  return (
    <tr data-flow={flow.id} className="cursor-pointer border-t border-rule align-baseline hover:bg-hover">
      <td className="py-1.5 pr-3">
        <button type="button" className="text-left font-semibold">
          {flow.name}
        </button>
        <span className="block break-words text-sm text-pencil first-letter:uppercase">{row.sentence}</span>
      </td>
      <td className="hidden break-words pr-3 text-sm text-pencil @4xl:table-cell">{accounts.join(" → ")}</td>
      <td className="whitespace-nowrap">
        {row.past_due > 0 && <span className="block text-sm font-semibold text-rust">past due</span>}
        {next ? (
          <span className="pencilled">{dayText(next.date, today)}</span>
        ) : (
          <span className="text-pencil">ended</span>
        )}
      </td>
      <td className={`whitespace-nowrap text-right ${flow.kind === "income" ? "text-teal" : ""}`}>
        {flow.estimate && <span className="text-pencil">about </span>}
        {money(shownAmount(row), currency)}
      </td>
      <td className="hidden whitespace-nowrap text-right @2xl:table-cell">{money(row.yearly, currency)}</td>
      <td className="hidden pl-6 align-middle @5xl:table-cell">
        <MonthStrip months={row.months} names={months} currency={currency} />
      </td>
    </tr>
  );
}
