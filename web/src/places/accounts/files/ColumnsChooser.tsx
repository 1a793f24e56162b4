import { Field } from "@/shared/kit/fields/Field";
import { Select } from "@/shared/kit/fields/Select";
import { Wide } from "@/shared/kit/Wide";
import type { Columns, Look } from "./useBankFile";

const WHATS = [
  { value: "", label: "nothing" },
  { value: "date", label: "the day" },
  { value: "amount", label: "the amount" },
  { value: "in", label: "money in" },
  { value: "out", label: "money out" },
  { value: "side", label: "in or out" },
  { value: "payee", label: "who" },
  { value: "memo", label: "what for" },
];
const ORDERS = [
  { value: "day_first", label: "day, month, year" },
  { value: "month_first", label: "month, day, year" },
  { value: "year_first", label: "year first, or months by name" },
];
const MARKS = [
  { value: ".", label: "1,234.56" },
  { value: ",", label: "1.234,56" },
];

interface Props {
  look: Look;
  onChange: (columns: Columns) => void;
}

/** Which column of a table is what, beside its first lines. */
export function ColumnsChooser({ look, onChange }: Props) {
  const table = look.table;
  if (!table) return null;
  const columns = (look.columns ?? {}) as Columns;
  const width = Math.max(table.header?.length ?? 0, ...table.rows.map((row) => row.length));
  const places = Array.from({ length: width }, (_, place) => place);
  const isAt = (value: string | number | null | undefined, place: number) =>
    value === place || (typeof value === "string" && table.header?.indexOf(value) === place);
  const whatAt = (place: number) => WHATS.find(({ value }) => value && isAt(columns[value], place))?.value ?? "";
  const put = (place: number, what: string) => {
    const next = Object.fromEntries(Object.entries(columns).filter(([, value]) => !isAt(value, place)));
    if (what === "amount") {
      delete next.in;
      delete next.out;
    } else if (what === "in" || what === "out") delete next.amount;
    onChange(what ? { ...next, [what]: place } : next);
  };
  return (
    <>
      <Wide label="The first lines of the file">
        <table className="border-collapse text-sm">
          <thead>
            <tr>
              {places.map((place) => (
                <th key={place} className="min-w-32 p-1 text-left font-normal">
                  <Select
                    label={`Column ${place + 1}${table.header?.[place] ? `, ${table.header[place]}` : ""}`}
                    value={whatAt(place)}
                    options={WHATS}
                    onChange={(what) => put(place, what)}
                  />
                </th>
              ))}
            </tr>
            {table.header && (
              <tr className="border-b border-rule-strong text-pencil">
                {places.map((place) => (
                  <td key={place} className="p-1">
                    {table.header?.[place]}
                  </td>
                ))}
              </tr>
            )}
          </thead>
          <tbody>
            {table.rows.map((cells, row) => (
              // biome-ignore lint/suspicious/noArrayIndexKey: rows have nothing else that names them
              <tr key={row} className="border-b border-rule">
                {places.map((place) => (
                  <td key={place} className="max-w-56 truncate p-1">
                    {cells[place]}
                  </td>
                ))}
              </tr>
            ))}
          </tbody>
        </table>
      </Wide>
      {look.columns && <Writing columns={columns} onChange={onChange} />}
    </>
  );
}

/** How the file writes days and amounts. */
function Writing({ columns, onChange }: { columns: Columns; onChange: (columns: Columns) => void }) {
  return (
    <div className="mt-2 flex flex-wrap gap-3">
      <Field label="Days are written" className="w-64">
        {(ids) => (
          <Select
            {...ids}
            value={String(columns.date_order ?? "")}
            options={ORDERS}
            onChange={(order) => onChange({ ...columns, date_order: order })}
          />
        )}
      </Field>
      <Field label="Amounts are written" className="w-44">
        {(ids) => (
          <Select
            {...ids}
            value={String(columns.decimal ?? ".")}
            options={MARKS}
            onChange={(decimal) => onChange({ ...columns, decimal })}
          />
        )}
      </Field>
    </div>
  );
}
