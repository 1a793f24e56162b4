import { useState } from "react";
import { Wide } from "@/shared/kit/Wide";
import { LineEntries } from "../LineEntries";
import { MonthRow } from "./MonthRow";
import { lastOf, type Months, MonthsHead } from "./MonthsHead";

type Line = Months["lines"][number];

/** Which cell is open: a row's month. */
interface Open {
  row: string;
  month: string;
}

const keyOf = (row: Line) => `${row.kind} ${row.category ?? row.allowance}`;

interface Props {
  data: Months;
  accounts: string;
  /** On paper nothing opens, and months lead nowhere. */
  isPaper?: boolean;
}

/** Categories by month: what happened in ink, and in pencil beneath it what was expected where that is another sum. */
export function CategoryTable({ data, accounts, isPaper = false }: Props) {
  const [open, setOpen] = useState<Open | null>(null);
  const parts = [
    { name: "Spending", rows: data.lines.filter((row) => row.kind !== "income"), sums: sumsOf(data, "spending") },
    { name: "Income", rows: data.lines.filter((row) => row.kind === "income"), sums: sumsOf(data, "income") },
  ];
  if (data.lines.length === 0)
    return <p className="text-pencil">Nothing was earned, spent or expected in these months.</p>;
  const toggle = (row: string, month: string) =>
    setOpen(open?.row === row && open.month === month ? null : { row, month });
  const columns = data.months.length + 5;
  return (
    <Wide label="Months of categories">
      <table className="w-full border-collapse text-right text-sm">
        <MonthsHead data={data} isPaper={isPaper} />
        {parts.map(({ name, rows, sums }) => (
          <tbody key={name}>
            <tr>
              <th scope="colgroup" colSpan={columns} className="pt-3 text-left font-display text-base">
                {name}
              </th>
            </tr>
            {rows.map((row) => (
              <Opening
                key={keyOf(row)}
                row={row}
                open={open}
                toggle={toggle}
                {...{ data, accounts, isPaper, columns }}
              />
            ))}
            <MonthRow name={`${name} together`} {...sums} data={data} isSum />
          </tbody>
        ))}
        <tbody>
          <MonthRow
            name="Kept"
            cells={data.months.map((month) => month.kept)}
            so_far={data.so_far.kept}
            year_ago={data.year_ago.kept}
            data={data}
            isSum
          />
        </tbody>
      </table>
    </Wide>
  );
}

const sumsOf = (data: Months, of: "spending" | "income") => ({
  cells: data.months.map((month) => month[of]),
  total: data[of],
  so_far: data.so_far[of],
  year_ago: data.year_ago[of],
});

interface OpeningProps extends Required<Props> {
  row: Line;
  open: Open | null;
  toggle: (row: string, month: string) => void;
  columns: number;
}

/** A category's row; the entries of the month that is open stand below it. */
function Opening({ row, open, toggle, data, accounts, isPaper, columns }: OpeningProps) {
  const key = keyOf(row);
  const month = open?.row === key ? open.month : null;
  const name = row.kind === "allowance" ? `${row.name}, allowance` : row.name;
  return (
    <>
      <MonthRow {...row} name={name} data={data} open={month} onOpen={isPaper ? undefined : (at) => toggle(key, at)} />
      {month && (
        <tr className="border-b border-rule">
          <td colSpan={columns} className="text-left text-base">
            <div className="sticky left-0 max-w-[min(64rem,calc(100vw-2rem))]">
              <LineEntries
                of={{
                  kind: row.kind,
                  categories: row.categories,
                  days: { from: `${month}-01`, to: lastOf(month) },
                  accounts,
                  currency: data.currency,
                  today: data.today,
                }}
              />
            </div>
          </td>
        </tr>
      )}
    </>
  );
}
