import type { Account, Schemas } from "@/shared/api/client";
import { FieldGroup } from "@/shared/kit/fields/Field";
import { Select } from "@/shared/kit/fields/Select";
import { AddRow, RemoveRow } from "@/shared/kit/RowButtons";
import type { FlowForm, SplitForm } from "./flowForm";

interface Props {
  values: FlowForm;
  accounts: Account[];
  categories: Schemas["Category"][];
  problem: string | undefined;
  onChange: (splits: SplitForm[]) => void;
}

/** Parts of the amount that land on another account, or belong to another category. */
export function SplitFields({ values, accounts, categories, problem, onChange }: Props) {
  const { splits } = values;
  const own = [values.from_account, values.to_account];
  const options = [
    ...accounts
      .filter(({ id }) => !own.includes(id))
      .map(({ id, name }) => ({ value: `account:${id}`, label: `to ${name}` })),
    ...categories
      .filter((each) => (each.kind === "income") === (values.kind === "income"))
      .map(({ id, name }) => ({ value: `category:${id}`, label: `for ${name}` })),
  ];
  const set = (place: number, part: Partial<SplitForm>) =>
    onChange(splits.map((each, at) => (at === place ? { ...each, ...part } : each)));
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
            <Select
              label={`Part ${place + 1}, where it goes`}
              value={split.goes}
              options={options}
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
