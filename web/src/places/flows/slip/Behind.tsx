import type { UseFormReturn } from "react-hook-form";
import type { Schemas } from "@/shared/api/client";
import { dayText } from "@/shared/format";
import { ChooseOne } from "@/shared/kit/fields/Choice";
import { FieldGroup } from "@/shared/kit/fields/Field";
import type { FlowForm } from "./flowForm";

interface Props {
  form: UseFormReturn<FlowForm>;
  values: FlowForm;
  behind: Schemas["BehindModel"];
  today: string;
}

/** Of a new flow whose dates lie behind: whether these were dealt with, or are still to be. */
export function Behind({ form, values, behind, today }: Props) {
  const first = dayText(behind.first, today);
  const label = behind.count === 1 ? `What was due on ${first}` : `The ${behind.count} dates since ${first}`;
  const done = values.kind === "income" ? "Came already" : values.kind === "bill" ? "Paid already" : "Moved already";
  return (
    <FieldGroup label={label}>
      <ChooseOne
        label={label}
        value={values.still_due ? "due" : "done"}
        onChange={(next) => form.setValue("still_due", next === "due", { shouldDirty: true })}
        options={[
          { value: "done", label: done },
          { value: "due", label: "Still due" },
        ]}
      />
    </FieldGroup>
  );
}
