import type { Schemas } from "@/shared/api/client";
import { useAccounts, useFlows } from "@/shared/api/hooks";
import { CategorySelect } from "@/shared/kit/fields/CategorySelect";
import { Field } from "@/shared/kit/fields/Field";
import { Select } from "@/shared/kit/fields/Select";
import { AmountField, DayField } from "@/shared/kit/fields/TypedFields";

interface Props {
  reading: Schemas["ReadingModel"];
  answers: Record<string, string>;
  onAnswer: (field: string, value: string) => void;
}

const LABELS: Record<string, string> = {
  account: "Account",
  from_account: "From",
  to_account: "To",
  category: "Category",
  flow: "Which one",
  date: "When",
  amount: "How much",
};

/** A field for everything that is not said yet, or may be several. */
export function Missing({ reading, answers, onAnswer }: Props) {
  // What was answered stays here, so that it can be answered otherwise.
  const fields = [...new Set([...Object.keys(answers), ...reading.missing])];
  return (
    <div className="flex flex-wrap items-end gap-3">
      {fields.map((field) => {
        const label = LABELS[field] ?? field;
        const value = answers[field] ?? "";
        const put = (next: string) => onAnswer(field, next);
        if (field === "date") return <DayField key={field} label={label} value={value} onChange={put} />;
        if (field === "amount") return <AmountField key={field} label={label} value={value} onChange={put} />;
        if (field === "category" && !reading.choices.category)
          return (
            <Field key={field} label={label} className="w-52">
              {(ids) => <CategorySelect {...ids} kind={reading.category_kind} value={value} onChange={put} />}
            </Field>
          );
        return (
          <Named key={field} label={label} value={value} ids={reading.choices[field]} onChange={put} field={field} />
        );
      })}
    </div>
  );
}

interface NamedProps {
  label: string;
  value: string;
  field: string;
  /** The ids among which it is; undefined where it may be any account. */
  ids: string[] | undefined;
  onChange: (value: string) => void;
}

function Named({ label, value, field, ids, onChange }: NamedProps) {
  const accounts = (useAccounts().data?.accounts ?? []).map(({ account }) => account);
  const flows = (useFlows().data?.flows ?? []).map(({ flow }) => flow);
  const named: { id: string; name: string }[] = field === "flow" ? flows : accounts;
  const options = named
    .filter(({ id }) => !ids || ids.includes(id))
    .map(({ id, name }) => ({ value: id, label: name }));
  return (
    <Field label={label} className="w-52">
      {(own) => <Select {...own} value={value} onChange={onChange} options={options} placeholder="Choose" />}
    </Field>
  );
}
