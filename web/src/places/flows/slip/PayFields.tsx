import type { UseFormReturn } from "react-hook-form";
import { ChooseOne } from "@/shared/kit/fields/Choice";
import { Field, FieldGroup } from "@/shared/kit/fields/Field";
import type { FlowForm } from "./flowForm";

interface Props {
  values: FlowForm;
  form: UseFormReturn<FlowForm>;
  currency: string;
  problem: (field: string) => string | undefined;
}

/** How a paycheck comes about: a fixed amount, or hours at a rate with the share taken home. */
export function PayFields({ values, form, currency, problem }: Props) {
  const number = (name: "rate" | "share" | "hours", label: string, field: string) => (
    <Field label={label} problem={problem(field)}>
      {(ids) => <input {...ids} {...form.register(name)} inputMode="decimal" className="field text-right" />}
    </Field>
  );
  return (
    <FieldGroup label="Paid">
      <ChooseOne
        label="Paid"
        value={values.by_the_hour ? "hours" : "amount"}
        onChange={(paid) => form.setValue("by_the_hour", paid === "hours", { shouldDirty: true })}
        options={[
          { value: "amount", label: "an amount" },
          { value: "hours", label: "by the hour" },
        ]}
      />
      {values.by_the_hour && (
        <div className="mt-2 grid grid-cols-3 gap-3">
          {number("hours", "Hours a payday", "hourly.hours")}
          {number("rate", `Rate (${currency})`, "hourly.rate")}
          {number("share", "Taken home, %", "hourly.share")}
        </div>
      )}
    </FieldGroup>
  );
}
