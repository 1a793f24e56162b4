import { FieldGroup } from "@/shared/kit/fields/Field";
import { AddRow, RemoveRow } from "@/shared/kit/RowButtons";
import type { LenderForm } from "./loanForm";

interface Props {
  list: LenderForm[];
  problem: string | undefined;
  onChange: (list: LenderForm[]) => void;
}

const COLUMNS = [
  { name: "from", label: "paid from", type: "date", look: "!w-40" },
  { name: "name", label: "name", type: "text", look: "!w-48", placeholder: "Who is paid" },
  { name: "fee", label: "fee with each payment", type: "text", look: "!w-28 text-right", placeholder: "Fee" },
  { name: "address", label: "address", type: "text", look: "", placeholder: "Address" },
] as const;

/** The loan moved: who is paid from a day on, where, and what that costs. */
export function LenderRows({ list, problem, onChange }: Props) {
  return (
    <FieldGroup label="The loan moved to another lender" problem={problem}>
      {list.map((each, place) => (
        // biome-ignore lint/suspicious/noArrayIndexKey: rows being written have no identity but their place
        <div key={place} className="mb-2 flex flex-wrap gap-1.5 border-l-2 border-rule pl-2">
          {COLUMNS.map((column) => (
            <input
              key={column.name}
              aria-label={`Lender ${place + 1}, ${column.label}`}
              type={column.type}
              placeholder={"placeholder" in column ? column.placeholder : undefined}
              value={each[column.name]}
              onChange={(event) =>
                onChange(list.map((old, at) => (at === place ? { ...old, [column.name]: event.target.value } : old)))
              }
              className={`field ${column.look}`}
            />
          ))}
          <RemoveRow
            name={`Remove lender ${place + 1}`}
            onClick={() => onChange(list.filter((_, at) => at !== place))}
          />
        </div>
      ))}
      <AddRow
        name="Another lender from a day on"
        onClick={() => onChange([...list, { from: "", name: "", address: "", fee: "" }])}
      />
    </FieldGroup>
  );
}
