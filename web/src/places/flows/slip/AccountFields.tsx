import type { UseFormReturn } from "react-hook-form";
import type { Account } from "@/shared/api/client";
import { Field } from "@/shared/kit/fields/Field";
import { Select } from "@/shared/kit/fields/Select";
import type { FlowForm } from "./flowForm";

interface Props {
  values: FlowForm;
  form: UseFormReturn<FlowForm>;
  accounts: Account[];
  problem: (field: string) => string | undefined;
}

/** The accounts that a flow of a kind moves money between. */
export function AccountFields({ values, form, accounts, problem }: Props) {
  const options = accounts.map(({ id, name }) => ({ value: id, label: name }));
  const sides = {
    income: [["to_account", "Arrives on"]],
    bill: [["from_account", "Paid from"]],
    transfer: [
      ["from_account", "From"],
      ["to_account", "To"],
    ],
  } as const;
  return (
    <>
      {sides[values.kind].map(([name, label]) => (
        <Field key={name} label={label} problem={problem(name)}>
          {(ids) => (
            <Select
              {...ids}
              value={values[name]}
              options={options}
              onChange={(next) => form.setValue(name, next, { shouldDirty: true })}
            />
          )}
        </Field>
      ))}
    </>
  );
}
