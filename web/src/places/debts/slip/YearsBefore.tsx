import { FieldGroup } from "@/shared/kit/fields/Field";
import { AddRow, RemoveRow } from "@/shared/kit/RowButtons";
import type { YearBeforeForm } from "./loanForm";

interface Props {
  list: YearBeforeForm[];
  problem: string | undefined;
  onChange: (list: YearBeforeForm[]) => void;
}

const COLUMNS = [
  { name: "year", label: "year", placeholder: "Year", look: "!w-24" },
  { name: "interest", label: "interest paid", placeholder: "Interest", look: "!w-32 text-right" },
  { name: "property_tax", label: "property tax paid", placeholder: "Property tax", look: "!w-32 text-right" },
] as const;

/** What was paid in years of which nothing is recorded here, for the tax return. */
export function YearsBefore({ list, problem, onChange }: Props) {
  return (
    <FieldGroup label="Paid in years before it was kept here" problem={problem}>
      {list.map((each, place) => (
        // biome-ignore lint/suspicious/noArrayIndexKey: rows being written have no identity but their place
        <div key={place} className="mb-2 flex flex-wrap gap-1.5 border-l-2 border-rule pl-2">
          {COLUMNS.map(({ name, label, placeholder, look }) => (
            <input
              key={name}
              aria-label={`Year before ${place + 1}, ${label}`}
              inputMode="decimal"
              placeholder={placeholder}
              value={each[name]}
              onChange={(event) =>
                onChange(list.map((old, at) => (at === place ? { ...old, [name]: event.target.value } : old)))
              }
              className={`field ${look}`}
            />
          ))}
          <RemoveRow name={`Remove year ${place + 1}`} onClick={() => onChange(list.filter((_, at) => at !== place))} />
        </div>
      ))}
      <AddRow
        name="A year before it was kept here"
        onClick={() => onChange([...list, { year: "", interest: "", property_tax: "" }])}
      />
    </FieldGroup>
  );
}
