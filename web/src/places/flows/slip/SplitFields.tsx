import type { Account } from "@/shared/api/client";
import { CategorySelect } from "@/shared/kit/fields/CategorySelect";
import { FieldGroup } from "@/shared/kit/fields/Field";
import { AddRow, RemoveRow } from "@/shared/kit/RowButtons";
import type { FlowForm, SplitForm } from "./flowForm";

interface Props {
  values: FlowForm;
  accounts: Account[];
  problem: string | undefined;
  onChange: (splits: SplitForm[]) => void;
}

/** Parts of the amount that land on another account, or belong to another category. */
export function SplitFields({ values, accounts, problem, onChange }: Props) {
  const { splits } = values;
  const own = [values.from_account, values.to_account];
  const others = accounts
    .filter(({ id }) => !own.includes(id))
    .map(({ id, name }) => ({ value: `account:${id}`, label: `to ${name}` }));
  const set = (place: number, part: Partial<SplitForm>) =>
    onChange(splits.map((splitForm, at) => (at === place ? { ...splitForm, ...part } : splitForm)));
  return (
    <FieldGroup label="Parts of it" problem={problem}>
      <ul className="flex flex-col gap-1.5">
        {splits.map((split, place) => (
          // biome-ignore lint/suspicious/noArrayIndexKey: parts have no identity but their place
          <li key={place} className="flex gap-1.5">
            <input
              aria-label={`Part ${place + 1}, amount`}
              inputMode="decimal"
              value={split.amount}
              onChange={(event) => set(place, { amount: event.target.value })}
              className="field !w-28 shrink-0 text-right"
            />
            <CategorySelect
              kind={values.kind === "income" ? "income" : "expense"}
              label={`Part ${place + 1}, where it goes`}
              value={split.goes}
              before={others}
              optionOf={({ value, label }) => ({ value: `category:${value}`, label: `for ${label}` })}
              onChange={(goes) => set(place, { goes })}
            />
            <RemoveRow
              name={`Remove part ${place + 1}`}
              onClick={() => onChange(splits.filter((_, at) => at !== place))}
            />
          </li>
        ))}
      </ul>
      <AddRow name="A part goes elsewhere" onClick={() => onChange([...splits, { amount: "", goes: "" }])} />
    </FieldGroup>
  );
}
