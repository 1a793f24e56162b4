import type { Schemas } from "@/shared/api/client";
import { categoryOptions } from "@/shared/categories";
import { digits } from "@/shared/format";
import { FieldGroup } from "@/shared/kit/fields/Field";
import { NewCategory } from "@/shared/kit/fields/NewCategory";
import { Select } from "@/shared/kit/fields/Select";
import { AddRow, RemoveRow } from "@/shared/kit/RowButtons";
import type { Part } from "./entryForm";

interface Props {
  parts: Part[];
  categories: Schemas["Category"][];
  kind: "income" | "expense";
  currency: string;
  /** What the last part takes, once the app has worked it out. */
  rest: number | undefined;
  problem: (field: string) => string | undefined;
  onChange: (parts: Part[]) => void;
}

/** What it was for: one category, or several with an amount each, the last taking what is left. */
export function PartFields({ parts, categories, kind, currency, rest, problem, onChange }: Props) {
  const chosen = parts.map((part) => part.category);
  const options = categoryOptions(categories, kind, chosen);
  const set = (place: number, part: Partial<Part>) =>
    onChange(parts.map((each, at) => (at === place ? { ...each, ...part } : each)));
  const first = problem("parts.0");
  if (options.length === 0)
    return (
      <FieldGroup label="For" problem={first}>
        <NewCategory kind={kind} isFirst onMade={(category) => set(0, { category })} />
      </FieldGroup>
    );
  return (
    <FieldGroup label="For" problem={first ?? problem("parts.1") ?? problem("parts.2")}>
      <ul className="flex flex-col gap-1.5">
        {parts.map((part, place) => {
          const isLast = place === parts.length - 1;
          return (
            // biome-ignore lint/suspicious/noArrayIndexKey: parts have no identity but their place
            <li key={place} className="flex gap-1.5">
              <Select
                label={parts.length > 1 ? `Category ${place + 1}` : "Category"}
                value={part.category}
                options={options}
                placeholder="Choose a category"
                onChange={(category) => set(place, { category })}
              />
              {parts.length > 1 &&
                (isLast ? (
                  <output className="w-28 shrink-0 self-center text-right text-pencil">
                    {rest === undefined ? "the rest" : digits(rest, currency)}
                  </output>
                ) : (
                  <input
                    aria-label={`Amount ${place + 1}`}
                    inputMode="decimal"
                    value={part.amount}
                    onChange={(event) => set(place, { amount: event.target.value })}
                    className="field !w-28 shrink-0 text-right"
                  />
                ))}
              {parts.length > 1 && (
                <RemoveRow
                  name={`Remove part ${place + 1}`}
                  onClick={() => onChange(parts.filter((_, at) => at !== place))}
                />
              )}
            </li>
          );
        })}
      </ul>
      <AddRow name="Split it" onClick={() => onChange([{ category: "", amount: "" }, ...parts])} />
    </FieldGroup>
  );
}
