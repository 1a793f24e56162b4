import { addMonths, format } from "date-fns";
import { type KeyboardEvent, useState } from "react";
import { useSearchParams } from "react-router";
import { useAccounts, useHousehold } from "@/shared/api/hooks";
import { civil, digits, money, monthOf } from "@/shared/format";
import { Button } from "@/shared/kit/Button";
import { Select } from "@/shared/kit/Select";
import { useView } from "@/shared/view";
import { Lenses } from "../Lenses";
import { MonthCell } from "./MonthCell";
import { type MonthsAnswer, type MonthsRow, useMonths } from "./useMonths";

const COUNTS = [12, 24, 60].map((count) => ({ value: String(count), label: `${count} months` }));

/** A column for every month: what opens it, comes in, goes out and closes it, flow by flow. */
export function Months() {
  const today = useHousehold().data?.today;
  const [search] = useSearchParams();
  const { set, accounts } = useView();
  if (!today) return null;
  const from = /^\d{4}-\d{2}$/.test(search.get("month") ?? "") ? (search.get("month") as string) : today.slice(0, 7);
  const count = COUNTS.some(({ value }) => value === search.get("months")) ? Number(search.get("months")) : 12;
  const move = (by: number) => set({ month: format(addMonths(civil(`${from}-01`), by), "yyyy-MM") });
  return (
    <div className="px-4 py-4 md:px-6">
      <h1 className="sr-only">Months</h1>
      <Lenses />
      <div className="mb-2 flex flex-wrap items-center gap-2">
        <Button onClick={() => move(-12)}>A year back</Button>
        <Button onClick={() => move(12)}>A year on</Button>
        {from !== today.slice(0, 7) && (
          <Button look="link" onClick={() => set({ month: null })}>
            From this month
          </Button>
        )}
        <Select
          label="How many months"
          value={String(count)}
          options={COUNTS}
          onChange={(next) => set({ months: next })}
          className="field !w-36"
        />
      </div>
      <Grid from={from} count={count} accounts={accounts.join(",") || null} today={today} />
    </div>
  );
}

function Grid({
  from,
  count,
  accounts,
  today,
}: {
  from: string;
  count: number;
  accounts: string | null;
  today: string;
}) {
  const { data, error } = useMonths(from, count, accounts);
  const names = new Map(useAccounts().data?.accounts.map(({ account }) => [account.id, account.name]));
  if (error) return <p role="alert">{error.message}</p>;
  if (!data) return null;
  return (
    <div className="overflow-x-auto" data-testid="months">
      <p className="mb-1 text-sm text-pencil">
        {data.accounts.map((id) => names.get(id) ?? id).join(", ")}
        {data.accounts.length > 1 && " together"}; transfers between them are left out.
      </p>
      <table aria-label="Months" onKeyDown={moveFocus} className="border-collapse text-right text-sm">
        <Heads data={data} today={today} />
        <tbody>
          <Sums name="Opening" values={data.months.map((month) => month.opening)} data={data} isStrong={false} />
          {data.rows.map((row, place) => (
            <FlowRow
              key={`${row.kind}/${row.id}/${row.name}`}
              row={row}
              data={data}
              isFirst={data.rows[place - 1]?.kind !== row.kind}
            />
          ))}
          <Sums name="Money in" values={data.months.map((month) => month.in)} data={data} isStrong={false} isTop />
          <Sums name="Money out" values={data.months.map((month) => -month.out)} data={data} isStrong={false} />
          <Sums name="Net" values={data.months.map((month) => month.net)} data={data} isStrong={false} />
          <Sums name="Closing" values={data.months.map((month) => month.closing)} data={data} isStrong />
          <Sums name="Lowest" values={data.months.map((month) => month.lowest.balance)} data={data} isStrong={false} />
        </tbody>
      </table>
      <NewRows />
    </div>
  );
}

/** The months; where the floor breaks, by how much. */
function Heads({ data, today }: { data: MonthsAnswer; today: string }) {
  return (
    <thead>
      <tr className="border-b border-rule-strong align-bottom">
        <th className={`${FIRST} py-1 text-left font-normal text-pencil`}>What</th>
        {data.months.map((month) => (
          <th
            key={month.month}
            className={`min-w-24 px-2 py-1 font-semibold ${month.month < today.slice(0, 7) ? "" : "italic"}`}
          >
            {month.short_by > 0 && (
              <span className="block font-semibold text-rust not-italic">
                {money(month.short_by, data.currency)} short
              </span>
            )}
            {monthOf(month.month)}
          </th>
        ))}
        <th className="px-3 font-normal text-pencil">Together</th>
        <th className="px-3 font-normal text-pencil">A month</th>
      </tr>
    </thead>
  );
}

// The first column stays while the months scroll.
const FIRST = "sticky left-0 z-10 bg-paper pr-3 min-w-36 max-w-52";

interface SumsProps {
  name: string;
  values: number[];
  data: MonthsAnswer;
  isStrong: boolean;
  isTop?: boolean;
}

function Sums({ name, values, data, isStrong, isTop = false }: SumsProps) {
  const look = `${isStrong ? "font-semibold" : ""} ${isTop ? "border-t border-rule-strong" : "border-t border-rule"}`;
  return (
    <tr className={look}>
      <th scope="row" className={`${FIRST} py-1 text-left ${isStrong ? "font-semibold" : "font-normal"}`}>
        {name}
      </th>
      {values.map((value, place) => {
        const month = data.months[place];
        return (
          <td
            key={month?.month}
            title={name === "Lowest" && month ? `on ${month.lowest.date}` : undefined}
            className={`px-2 ${name === "Lowest" && month && month.short_by > 0 ? "text-rust" : ""}`}
          >
            {digits(value, data.currency)}
          </td>
        );
      })}
      <td />
      <td />
    </tr>
  );
}

function FlowRow({ row, data, isFirst }: { row: MonthsRow; data: MonthsAnswer; isFirst: boolean }) {
  const { openSlip } = useView();
  const kind = row.kind === "allowance" ? "allowance" : "flow";
  return (
    <tr className={isFirst ? "border-t border-rule-strong" : "border-t border-rule"}>
      <th scope="row" className={`${FIRST} truncate py-0.5 text-left font-normal`}>
        {row.id && row.kind !== "card" && row.kind !== "interest" ? (
          <button type="button" className="truncate hover:underline" onClick={() => openSlip(kind, row.id)}>
            {row.name}
          </button>
        ) : (
          row.name
        )}
      </th>
      {row.cells.map((cell, place) => (
        <MonthCell key={data.months[place]?.month} row={row} cell={cell} currency={data.currency} />
      ))}
      <td className="px-3 text-pencil">{digits(row.total, data.currency)}</td>
      <td className="px-3 text-pencil">{digits(row.average, data.currency)}</td>
    </tr>
  );
}

function NewRows() {
  const { openSlip } = useView();
  const [isOpen, setOpen] = useState(false);
  if (!isOpen)
    return (
      <Button look="link" onClick={() => setOpen(true)}>
        Add a row
      </Button>
    );
  return (
    <p className="flex flex-wrap gap-2 py-1">
      <Button onClick={() => openSlip("flow", null, "income")}>Income</Button>
      <Button onClick={() => openSlip("flow", null, "bill")}>A bill</Button>
      <Button onClick={() => openSlip("flow", null, "transfer")}>A transfer</Button>
      <Button onClick={() => openSlip("allowance", null)}>An allowance</Button>
    </p>
  );
}

const STEPS: Record<string, [number, number]> = {
  ArrowUp: [-1, 0],
  ArrowDown: [1, 0],
  ArrowLeft: [0, -1],
  ArrowRight: [0, 1],
};

/** The arrows go from cell to cell, as in any grid; within a field they stay there. */
function moveFocus(event: KeyboardEvent<HTMLTableElement>) {
  const step = STEPS[event.key];
  const from = (event.target as HTMLElement).closest("td");
  if (!step || !from || event.target instanceof HTMLInputElement) return;
  const rows = [...event.currentTarget.querySelectorAll("tr")];
  let row = rows.indexOf(from.parentElement as HTMLTableRowElement);
  let column = from.cellIndex;
  for (;;) {
    row += step[0];
    column += step[1];
    const cell = rows[row]?.cells[column];
    if (!cell) return;
    const button = cell.querySelector<HTMLElement>("button");
    if (button) {
      event.preventDefault();
      button.focus();
      return;
    }
  }
}
