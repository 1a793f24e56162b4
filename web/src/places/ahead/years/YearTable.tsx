import type { Schemas } from "@/shared/api/client";
import { digits } from "@/shared/format";
import { useView } from "@/shared/view";
import { HANDS, MONTHS, STANDING } from "./Mark";
import { YearCell } from "./YearCell";

type Row = Schemas["YearListRow"];

interface Props {
  data: Schemas["YearListAnswer"];
  onPaper?: boolean;
}

/** The whole year as a table, where there is room. */
export function YearTable({ data, onPaper = false }: Props) {
  const cell = onPaper ? "px-[1.5pt]" : "px-1";
  return (
    <table
      aria-label={`Bills of ${data.year}`}
      className={`w-full border-collapse text-right ${onPaper ? "text-[7pt] leading-snug" : "hidden text-sm @6xl:table"}`}
    >
      <thead>
        <tr className="border-b border-rule-strong [&>th]:font-normal [&>th]:text-pencil">
          <th className={cell}>Day</th>
          <th className={`${cell} text-left`}>Bill</th>
          {MONTHS.map((month) => (
            <th key={month} className={cell}>
              {month}
            </th>
          ))}
          <th className={cell}>A month</th>
          <th className={cell}>Year</th>
          <th className={cell}>Still owed</th>
        </tr>
      </thead>
      <tbody>
        {data.rows.map((row) => (
          <Line key={row.id} row={row} today={data.today} cell={cell} onPaper={onPaper} />
        ))}
      </tbody>
      <tfoot>
        <tr className="border-t border-rule-strong font-semibold">
          <td />
          <th scope="row" className={`${cell} py-1 text-left`}>
            Together
          </th>
          {data.months.map((sum, place) => (
            <td key={MONTHS[place]} className={`${cell} ${onPaper ? "" : "text-xs"}`}>
              {digits(sum, data.currency)}
            </td>
          ))}
          <td />
          <td className={cell}>{digits(data.total, data.currency)}</td>
          <td className={cell}>{digits(data.owed, data.currency)}</td>
        </tr>
      </tfoot>
    </table>
  );
}

interface LineProps {
  row: Row;
  today: string;
  cell: string;
  onPaper: boolean;
}

function Line({ row, today, cell, onPaper }: LineProps) {
  return (
    <tr className="border-b border-rule">
      <td className={cell}>{row.due_day}</td>
      <th scope="row" className={`${cell} text-left font-normal ${onPaper ? "" : "max-w-40 py-0.5"}`}>
        {onPaper ? row.name : <RowName row={row} />}
      </th>
      {row.months.map((mark, place) => (
        <td key={MONTHS[place]} className={`${cell} ${onPaper ? "" : "text-xs"}`}>
          {onPaper ? (
            <span className={HANDS[mark.stands]} title={STANDING[mark.stands]}>
              {mark.stands === "none" ? "" : digits(mark.amount, row.currency)}
            </span>
          ) : (
            <YearCell row={row} mark={mark} month={MONTHS[place] ?? ""} today={today} />
          )}
        </td>
      ))}
      <td className={cell}>{digits(row.monthly, row.currency)}</td>
      <td className={cell}>{digits(row.total, row.currency)}</td>
      <td className={cell}>{row.owed === null ? "" : digits(row.owed, row.currency)}</td>
    </tr>
  );
}

/** The name of a bill, which opens its slip; what an account makes of itself has none. */
export function RowName({ row }: { row: Row }) {
  const { openSlip } = useView();
  if (row.rhythm === "") return row.name;
  return (
    <button
      type="button"
      title={row.rhythm}
      className="max-w-full text-left break-words hover:underline"
      onClick={() => openSlip("flow", row.id)}
    >
      {row.name}
    </button>
  );
}
