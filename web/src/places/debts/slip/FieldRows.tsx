import { FieldGroup } from "@/shared/kit/fields/Field";
import { AddRow, RemoveRow } from "@/shared/kit/RowButtons";

interface Column<Row> {
  name: keyof Row & string;
  label: string;
  placeholder?: string;
  type?: string;
  look: string;
}

/** The rows as they are typed, what is wrong with them, and what becomes of them. */
export interface Typed<Row> {
  list: Row[];
  problem: string | undefined;
  onChange: (list: Row[]) => void;
}

interface Props<Row> extends Typed<Row> {
  label: string;
  /** What one row is, as its fields and its removal say it. */
  what: string;
  add: string;
  columns: readonly Column<Row>[];
  blank: Row;
}

/** Rows of a few typed fields each, added and removed one by one. */
export function FieldRows<Row extends { [Name in keyof Row]: string }>(props: Props<Row>) {
  const { label, what, add, columns, blank, list, problem, onChange } = props;
  return (
    <FieldGroup label={label} problem={problem}>
      {list.map((row, place) => (
        // biome-ignore lint/suspicious/noArrayIndexKey: rows being written have no identity but their place
        <div key={place} className="mb-2 flex flex-wrap gap-1.5 border-l-2 border-rule pl-2">
          {columns.map((column) => (
            <input
              key={column.name}
              aria-label={`${what} ${place + 1}, ${column.label}`}
              type={column.type}
              placeholder={column.placeholder}
              value={row[column.name]}
              onChange={(event) =>
                onChange(list.map((old, at) => (at === place ? { ...old, [column.name]: event.target.value } : old)))
              }
              className={`field ${column.look}`}
            />
          ))}
          <RemoveRow
            name={`Remove ${what.toLowerCase()} ${place + 1}`}
            onClick={() => onChange(list.filter((_, at) => at !== place))}
          />
        </div>
      ))}
      <AddRow name={add} onClick={() => onChange([...list, blank])} />
    </FieldGroup>
  );
}
