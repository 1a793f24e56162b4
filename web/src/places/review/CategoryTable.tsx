import { format } from "date-fns";
import { Link } from "react-router";
import type { Schemas } from "@/shared/api/client";
import { civil, digits } from "@/shared/format";
import { Wide } from "@/shared/kit/Wide";
import { keptSearch, useView } from "@/shared/view";

type Months = Schemas["ReviewMonths"];
type Two = Schemas["TwoModel"];

/** Categories by month: what happened in ink, and in pencil beneath it what was expected where that is another sum. */
export function CategoryTable({ data }: { data: Months }) {
  const parts: [string, Months["lines"], Two[], Two][] = [
    ["Spending", data.lines.filter((row) => row.kind !== "income"), data.months.map((m) => m.spending), data.spending],
    ["Income", data.lines.filter((row) => row.kind === "income"), data.months.map((m) => m.income), data.income],
  ];
  if (data.lines.length === 0)
    return <p className="text-pencil">Nothing was earned, spent or expected in these months.</p>;
  return (
    <Wide label="Months of categories">
      <table className="w-full border-collapse text-right text-sm">
        <thead>
          <tr className="border-b border-rule-strong text-pencil [&>th]:px-1.5 [&>th]:py-1 [&>th]:font-normal">
            <th scope="col" className="sticky left-0 bg-paper !pl-0 text-left">
              Category
            </th>
            {data.months.map((month) => (
              <th scope="col" key={month.month}>
                <MonthLink month={month.month} />
              </th>
            ))}
            <th scope="col">Together</th>
          </tr>
        </thead>
        {parts.map(([name, rows, months, total]) => (
          <tbody key={name}>
            <tr>
              <th scope="colgroup" colSpan={data.months.length + 2} className="pt-3 text-left font-display text-base">
                {name}
              </th>
            </tr>
            {rows.map((row) => (
              <Row
                key={`${row.kind} ${row.category ?? row.allowance}`}
                name={row.kind === "allowance" ? `${row.name}, allowance` : row.name}
                cells={row.cells}
                total={row.total}
                data={data}
              />
            ))}
            <Row name={`${name} together`} cells={months} total={total} data={data} isSum />
          </tbody>
        ))}
        <tbody>
          <Row name="Kept" cells={data.months.map((month) => month.kept)} data={data} isSum />
        </tbody>
      </table>
    </Wide>
  );
}

interface RowProps {
  name: string;
  cells: Two[];
  total?: Two;
  data: Months;
  isSum?: boolean;
}

function Row({ name, cells, total, data, isSum = false }: RowProps) {
  return (
    <tr className={`border-b border-rule align-top ${isSum ? "font-semibold" : ""}`}>
      <th scope="row" className="sticky left-0 max-w-44 bg-paper py-1 pr-2 text-left font-[inherit]">
        {name}
      </th>
      {cells.map((cell, at) => (
        <Cell key={data.months[at]?.month} cell={cell} currency={data.currency} />
      ))}
      {total ? <Cell cell={total} currency={data.currency} /> : <td />}
    </tr>
  );
}

function Cell({ cell, currency }: { cell: Two; currency: string }) {
  return (
    <td className="px-1.5 py-1 whitespace-nowrap">
      {cell.actual !== 0 && <span className="block">{digits(cell.actual, currency)}</span>}
      {cell.expected !== cell.actual && (
        <span className="block text-xs font-normal text-pencil italic">{digits(cell.expected, currency)}</span>
      )}
    </td>
  );
}

/** A month's name, which leads to its review. */
function MonthLink({ month }: { month: string }) {
  const { search } = useView();
  const day = `${month}-01`;
  const asked = new URLSearchParams(keptSearch(search));
  for (const name of ["from", "until"]) asked.delete(name);
  asked.set("on", day);
  return (
    <Link
      to={{ pathname: "/review", search: asked.toString() }}
      className="inline-flex min-h-8 items-center whitespace-nowrap underline-offset-4 hover:underline"
      title={`Review ${format(civil(day), "MMMM yyyy")}`}
    >
      {format(civil(day), "MMM yy")}
    </Link>
  );
}
