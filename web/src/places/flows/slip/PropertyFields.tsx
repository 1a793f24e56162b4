import type { UseFormReturn } from "react-hook-form";
import type { Account } from "@/shared/api/client";
import { Field } from "@/shared/kit/fields/Field";
import { Select } from "@/shared/kit/fields/Select";
import type { FlowForm } from "./flowForm";

const PURPOSES = [
  { value: "", label: "something else" },
  { value: "tax", label: "property tax" },
  { value: "insurance", label: "insurance" },
  { value: "upkeep", label: "upkeep" },
];

interface Props {
  values: FlowForm;
  form: UseFormReturn<FlowForm>;
  accounts: Account[];
  problem: (field: string) => string | undefined;
}

/** Which property a flow belongs to, and what it is for; asked only where something is owned. */
export function PropertyFields({ values, form, accounts, problem }: Props) {
  const owned = accounts.filter((account) => account.kind === "asset");
  if (owned.length === 0) return null;
  return (
    <div className="grid grid-cols-2 gap-3">
      <Field label="Belongs to" problem={problem("property")}>
        {(ids) => (
          <Select
            {...ids}
            value={values.property}
            onChange={(property) => form.setValue("property", property, { shouldDirty: true })}
            options={[
              { value: "", label: "No property" },
              ...owned.map(({ id, name }) => ({ value: id, label: name })),
            ]}
          />
        )}
      </Field>
      {values.property !== "" && values.kind === "bill" && (
        <Field label="It is for" problem={problem("purpose")}>
          {(ids) => (
            <Select
              {...ids}
              value={values.purpose}
              onChange={(purpose) => form.setValue("purpose", purpose as FlowForm["purpose"], { shouldDirty: true })}
              options={PURPOSES}
            />
          )}
        </Field>
      )}
    </div>
  );
}
