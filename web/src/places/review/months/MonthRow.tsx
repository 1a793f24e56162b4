import { format } from "date-fns";
import type { Schemas } from "@/shared/api/client";
import { civil, digits } from "@/shared/format";
import type { Months } from "./MonthsHead";
import { Strip } from "./Strip";

type Two = Schemas["TwoModel"];

interface Props {
  name: string;
  cells: Two[];
  total?: Two;
  so_far: Two;
  year_ago: Two;
  data: Months;
  isSum?: boolean;
  /** The month whose entries are open. */
  open?: string | null;
  onOpen?: (month: string) => void;
}

/** A row of the table: its months at a glance, each by itself, together, and the year so far beside the one before. */
export function MonthRow({ name, cells, total, so_far, year_ago, data, isSum = false, open, onOpen }: Props) {
  return (
    <tr className={`border-b border-rule align-top ${isSum ? "font-semibold" : ""}`}>
      <th
        scope="row"
        className={`sticky left-0 max-w-40 min-w-24 bg-paper py-1 pr-2 text-left ${isSum ? "font-semibold" : "font-normal"}`}
      >
        {name}
      </th>
      <td className="py-1 pr-1">
        <Strip cells={cells} />
      </td>
      {cells.map((cell, at) => {
        const month = data.months[at]?.month ?? "";
        return (
          <td key={month} className="px-1 whitespace-nowrap">
            {onOpen && (cell.actual !== 0 || cell.expected !== 0) ? (
              <button
                type="button"
                aria-expanded={open === month}
                className={`flex min-h-8 w-full min-w-8 flex-col items-end rounded-sm px-0.5 py-1 text-right hover:bg-hover ${open === month ? "bg-hover underline" : ""}`}
                onClick={() => onOpen(month)}
              >
                <Cell cell={cell} currency={data.currency} />
                <span className="sr-only">
                  {name}, {format(civil(`${month}-01`), "MMMM yyyy")}
                </span>
              </button>
            ) : (
              <div className="px-0.5 py-1">
                <Cell cell={cell} currency={data.currency} />
              </div>
            )}
          </td>
        );
      })}
      {[total, so_far, year_ago].map((both, at) => (
        // biome-ignore lint/suspicious/noArrayIndexKey: a sum is its place
        <td key={at} className={`px-1.5 py-1 whitespace-nowrap ${at === 0 ? "border-l border-rule" : ""}`}>
          {both && <Cell cell={both} currency={data.currency} />}
        </td>
      ))}
    </tr>
  );
}

function Cell({ cell, currency }: { cell: Two; currency: string }) {
  return (
    <>
      {cell.actual !== 0 && <span className="block">{digits(cell.actual, currency)}</span>}
      {cell.expected !== cell.actual && (
        <span className="block text-xs font-normal text-pencil italic">{digits(cell.expected, currency)}</span>
      )}
    </>
  );
}
