import type { Schemas } from "@/shared/api/client";
import { digits } from "@/shared/format";
import { CategorySelect } from "@/shared/kit/fields/CategorySelect";
import { FieldGroup } from "@/shared/kit/fields/Field";
import { AddRow, RemoveRow } from "@/shared/kit/RowButtons";
import type { Part } from "./entryForm";

interface Props {
  parts: Part[];
  kind: "income" | "expense";
  /** What it was most likely for, where nothing is chosen yet. */
  likely: Schemas["Category"] | undefined;
  currency: string;
  /** What the last part takes, once the app has worked it out. */
  rest: number | undefined;
  problem: (field: string) => string | undefined;
  onChange: (parts: Part[]) => void;
}

/** What it was for: one category, or several with an amount each, the last taking what is left. */
export function PartFields({ parts, kind, likely, currency, rest, problem, onChange }: Props) {
  const set = (place: number, part: Partial<Part>) =>
    onChange(parts.map((onePart, at) => (at === place ? { ...onePart, ...part } : onePart)));
  return (
    <FieldGroup label="For" problem={problem("parts.0") ?? problem("parts.1") ?? problem("parts.2")}>
      <ul className="flex flex-col gap-1.5">
        {parts.map((part, place) => {
          const isLast = place === parts.length - 1;
          return (
            // biome-ignore lint/suspicious/noArrayIndexKey: parts have no identity but their place
            <li key={place} className="flex gap-1.5">
              <CategorySelect
                kind={kind}
                label={parts.length > 1 ? `Category ${place + 1}` : "Category"}
                value={part.category}
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
      {likely && parts.length === 1 && !parts[0]?.category && (
        <button
          type="button"
          className="min-h-9 pr-4 text-left text-copper underline underline-offset-4"
          onClick={() => set(0, { category: likely.id })}
        >
          {likely.name}, as last time
        </button>
      )}
      <AddRow name="Split it" onClick={() => onChange([{ category: "", amount: "" }, ...parts])} />
    </FieldGroup>
  );
}
