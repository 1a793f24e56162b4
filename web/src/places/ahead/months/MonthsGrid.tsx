import { startTransition, useEffect, useMemo, useState } from "react";
import { useAccounts } from "@/shared/api/hooks";
import { exportQuery } from "@/shared/csv/exportQuery";
import { dayText, digits, money, monthOf } from "@/shared/format";
import { Button } from "@/shared/kit/Button";
import { useView } from "@/shared/view";
import { columnsOf, within } from "./block";
import { MonthCell } from "./MonthCell";
import { OddsRow } from "./OddsRow";
import { keyOf, useRowOrder } from "./rowOrder";
import { useGrid } from "./useGrid";
import type { MonthsAnswer, MonthsCell, MonthsRow } from "./useMonths";

/** The columns that are drawn so far. */
interface Columns {
  places: number[];
  /** Every month's name. */
  names: string[];
}

/** The months in columns: first those in sight, the others right after, so that scrolling draws nothing. */
export function MonthsGrid({ data: answered, today }: { data: MonthsAnswer; today: string }) {
  const { data, move } = useRowOrder(answered);
  const [drawn, setDrawn] = useState(() => Math.ceil(window.innerWidth / 100) + 1);
  const count = data.months.length;
  useEffect(() => {
    if (drawn < count) startTransition(() => setDrawn(count));
  }, [drawn, count]);
  const grid = useGrid(data, move);
  const { openSlip } = useView();
  const places = useMemo(() => Array.from({ length: Math.min(drawn, count) }, (_, place) => place), [drawn, count]);
  const columns = useMemo(
    () => ({ places, names: data.months.map(({ month }) => monthOf(month)) }),
    [places, data.months],
  );
  const sums = { data, columns };
  return (
    <>
      <div className="relative max-h-[75vh] overflow-auto bg-paper">
        <table
          ref={grid.table}
          aria-label="Months"
          // biome-ignore lint/a11y/noNoninteractiveElementToInteractiveRole: cells are moved through and written in by keys
          role="grid"
          aria-multiselectable
          aria-colcount={data.months.length + 3}
          {...grid.on}
          className="border-collapse text-right text-sm select-none"
        >
          <Heads data={data} today={today} columns={columns} />
          <tbody>
            <Sums name="Opening" values={data.months.map((month) => month.opening)} {...sums} isStrong={false} />
            {data.begun.some((amount) => amount !== 0) && (
              <Sums name="Accounts begun" values={data.begun} {...sums} isStrong={false} />
            )}
            {data.rows.map((row, place) => (
              <FlowRow
                key={keyOf(row)}
                row={row}
                isFirst={data.rows[place - 1]?.kind !== row.kind}
                at={place}
                grid={grid}
                move={move}
                onOpen={openSlip}
                {...sums}
              />
            ))}
            <Sums name="Money in" values={data.money_in.amounts} of={data.money_in} {...sums} isStrong={false} isTop />
            <Sums name="Money out" values={data.money_out.amounts} of={data.money_out} {...sums} isStrong={false} />
            <Sums name="Net" values={data.net.amounts} of={data.net} {...sums} isStrong={false} />
            <Sums name="Closing" values={data.months.map((month) => month.closing)} {...sums} isStrong />
            <Sums name="Lowest" values={data.months.map((month) => month.lowest.balance)} {...sums} isStrong={false} />
            <LowestDays {...sums} />
            <OddsRow data={data} months={shownOf(data.months, columns)} today={today} head={FIRST} />
            {data.put_in.some((amount) => amount > 0) && (
              <>
                <Sums name="To be put in" values={data.put_in} {...sums} isStrong={false} isTop />
                <Sums name="Closing with it" values={data.closing_with_it} {...sums} isStrong={false} />
              </>
            )}
          </tbody>
        </table>
      </div>
      <div className="flex flex-wrap items-center gap-2">
        <NewRows />
        <a
          href={`/api/months/workbook.xlsx?${workbookQuery(data)}`}
          download
          className="inline-flex min-h-9 items-center text-copper underline underline-offset-4"
        >
          As a workbook
        </a>
        {columnsOf(grid.block).length > 1 && (
          <Button look="link" onClick={grid.fill}>
            Fill along the row
          </Button>
        )}
      </div>
    </>
  );
}

const workbookQuery = ({ months, accounts }: MonthsAnswer) =>
  exportQuery({ from: months[0]?.month ?? "", count: String(months.length), accounts: accounts.join(",") });

/** What is dragged: a row, by its place. */
const ROW = "application/x-row";
const NO_CELL: MonthsCell = { amount: 0, recorded: 0, expected: 0, nominals: [] };

const shownOf = (months: MonthsAnswer["months"], { places }: Columns) =>
  places.map((place) => months[place]).filter((month) => month !== undefined);

/** The months; where the floor breaks, by how much. */
function Heads({ data, today, columns }: { data: MonthsAnswer; today: string; columns: Columns }) {
  const names = new Map(useAccounts().data?.accounts.map(({ account }) => [account.id, account.name]));
  return (
    <thead>
      <tr className="align-bottom">
        <th className={`${FIRST} ${HEAD} !z-20 py-1 text-left font-normal text-pencil`}>What</th>
        {shownOf(data.months, columns).map((month) => (
          <th
            key={month.month}
            className={`${HEAD} w-26 min-w-26 px-1 py-1 md:w-28 md:min-w-28 md:px-2 font-semibold ${month.month < today.slice(0, 7) ? "" : "italic"}`}
          >
            {month.short_by > 0 && (
              <span className="block text-xs font-semibold text-rust not-italic">
                {names.get(data.short_accounts[data.months.indexOf(month)] ?? "")}:{" "}
                {money(month.short_by, data.currency)} short
              </span>
            )}
            {monthOf(month.month)}
          </th>
        ))}
        <th className={`${HEAD} px-3 font-normal text-pencil`}>Together</th>
        <th className={`${HEAD} px-3 font-normal text-pencil`}>A month</th>
      </tr>
    </thead>
  );
}

// The heads stay while the rows scroll.
const HEAD = "sticky top-0 z-10 bg-paper shadow-[0_1px_0_var(--rule-strong)]";
// The first column stays while the months scroll.
const FIRST = "sticky left-0 z-10 bg-paper pr-2 min-w-30 max-w-32 md:min-w-52 md:max-w-60 md:pr-3";

interface SumsProps {
  name: string;
  values: number[];
  columns: Columns;
  data: MonthsAnswer;
  isStrong: boolean;
  isTop?: boolean;
  /** What all months come to, for what can be added up. */
  of?: { total: number; average: number };
}

function Sums({ name, values, data, columns, isStrong, isTop = false, of }: SumsProps) {
  const look = `${isStrong ? "font-semibold" : ""} ${isTop ? "border-t border-rule-strong" : "border-t border-rule"}`;
  return (
    <tr className={look}>
      <th scope="row" className={`${FIRST} py-1 text-left ${isStrong ? "font-semibold" : "font-normal"}`}>
        {name}
      </th>
      {columns.places.map((place) => {
        const month = data.months[place];
        return (
          <td key={month?.month} className="px-2">
            {digits(values[place] ?? 0, data.currency)}
          </td>
        );
      })}
      <td className="px-3 text-pencil">{of && digits(of.total, data.currency)}</td>
      <td className="px-3 text-pencil">{of && digits(of.average, data.currency)}</td>
    </tr>
  );
}

function LowestDays({ data, columns }: { data: MonthsAnswer; columns: Columns }) {
  return (
    <tr className="text-xs text-pencil">
      <th scope="row" className={`${FIRST} text-left font-normal`}>
        on
      </th>
      {shownOf(data.months, columns).map((month) => (
        <td key={month.month} className="px-2">
          {dayText(month.lowest.date, month.lowest.date)}
        </td>
      ))}
      <td />
      <td />
    </tr>
  );
}

interface RowProps {
  row: MonthsRow;
  data: MonthsAnswer;
  isFirst: boolean;
  at: number;
  columns: Columns;
  grid: ReturnType<typeof useGrid>;
  move: (from: number, to: number) => boolean;
  onOpen: ReturnType<typeof useView>["openSlip"];
}

function FlowRow({ row, data, isFirst, at, columns, grid, move, onOpen }: RowProps) {
  const kind = row.kind === "allowance" ? "allowance" : "flow";
  const ofGroup = data.groups[row.group];
  const isNewGroup = row.group !== "" && data.rows[at - 1]?.group !== row.group;
  return (
    <>
      {isNewGroup && (
        <tr className={isFirst ? "border-t border-rule-strong" : ""}>
          <th scope="rowgroup" className={`${FIRST} pt-2 text-left text-xs font-normal text-pencil`}>
            {row.group}
          </th>
          {columns.places.map((place) => (
            <td key={data.months[place]?.month} className="px-2 pt-2 text-xs text-pencil">
              {digits(ofGroup?.amounts[place] ?? 0, data.currency)}
            </td>
          ))}
          <td className="px-3 pt-2 text-xs text-pencil">{digits(ofGroup?.total ?? 0, data.currency)}</td>
          <td className="px-3 pt-2 text-xs text-pencil">{digits(ofGroup?.average ?? 0, data.currency)}</td>
        </tr>
      )}
      <tr className={isFirst && !isNewGroup ? "border-t border-rule-strong" : "border-t border-rule"}>
        <th
          scope="row"
          title="Drag it, or press Alt and ↑ or ↓ in a cell, to move the row within its group"
          draggable
          onDragStart={(event) => event.dataTransfer.setData(ROW, String(at))}
          onDragOver={(event) => event.dataTransfer.types.includes(ROW) && event.preventDefault()}
          onDrop={(event) => {
            event.preventDefault();
            move(Number(event.dataTransfer.getData(ROW)), at);
          }}
          className={`${FIRST} cursor-grab py-0.5 text-left font-normal break-words`}
        >
          {row.id && row.kind !== "card" && row.kind !== "interest" ? (
            <button
              type="button"
              className="max-w-full text-left break-words hover:underline"
              onClick={() => onOpen(kind, row.id)}
            >
              {row.name}
            </button>
          ) : (
            row.name
          )}
        </th>
        {columns.places.map((place) => (
          <MonthCell
            key={data.months[place]?.month}
            row={row}
            cell={row.cells[place] ?? NO_CELL}
            month={data.months[place]?.month ?? ""}
            monthName={columns.names[place] ?? ""}
            currency={data.currency}
            place={`${at}/${place}`}
            isChosen={within(grid.block, at, place)}
            isFocus={grid.block.focus.row === at && grid.block.focus.column === place}
            typed={grid.block.focus.row === at && grid.block.focus.column === place ? grid.typed : null}
            onClose={grid.close}
          />
        ))}
        <td className="px-3 text-pencil">{digits(row.total, data.currency)}</td>
        <td className="px-3 text-pencil">{digits(row.average, data.currency)}</td>
      </tr>
    </>
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
