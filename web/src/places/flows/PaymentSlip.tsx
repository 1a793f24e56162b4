import { Link } from "react-router";
import type { ChangeRequest, Schemas } from "@/shared/api/client";
import { Field } from "@/shared/kit/fields/Field";
import { Select } from "@/shared/kit/fields/Select";
import { Slip } from "@/shared/slip/Slip";
import { useSlip } from "@/shared/slip/useSlip";
import { useSlipForm } from "@/shared/slip/useSlipForm";
import { keptSearch, useView } from "@/shared/view";
import { Planned, plannedOf, takingBack } from "./Planned";
import { ROLLS } from "./slip/WhenFields";

/** The payment that a loan makes by itself: its dates and amounts are the loan's, the rest can be set here. */
export function PaymentSlip({ row, today }: { row: Schemas["FlowRow"]; today: string }) {
  const { flow, sentence } = row;
  const { search } = useView();
  const initial = {
    name: flow.name,
    roll: flow.roll ?? "none",
    remind_days: String(flow.remind_days ?? 3),
    always_happens: flow.always_happens ?? false,
    notes: flow.notes ?? "",
    taken_back: [] as string[],
  };
  const planned = plannedOf(row, today, (id) => id);
  const { form, values, isDirty } = useSlipForm(initial);
  const { taken_back, ...fields } = values;
  const value = { ...fields, name: values.name.trim(), remind_days: Number(values.remind_days || "0") };
  const changes: ChangeRequest[] = [
    ...takingBack("flow", flow.id, planned, taken_back),
    { op: "update", kind: "flow", id: flow.id, value },
  ];
  const slip = useSlip(isDirty ? changes : null, () => true);
  return (
    <Slip
      title={flow.name}
      saveName="Save"
      isSaving={slip.isSaving}
      problem={slip.otherProblem(["name", "roll", "remind_days", "notes"])}
      onSave={() => slip.save(changes, "Saved")}
    >
      <p className="border-l-2 border-copper pl-3">
        Paid {sentence}; dates and amounts come from{" "}
        <Link
          to={{ pathname: `/debts/${encodeURIComponent(flow.to_account ?? "")}`, search: keptSearch(search) }}
          className="text-copper underline underline-offset-4"
        >
          the loan's terms
        </Link>
        .
      </p>
      <Field label="Name" problem={slip.problem("name")}>
        {(ids) => <input {...ids} {...form.register("name")} autoComplete="off" className="field" />}
      </Field>
      <Field label="On weekends and bank holidays" problem={slip.problem("roll")}>
        {(ids) => (
          <Select
            {...ids}
            value={values.roll}
            options={ROLLS}
            onChange={(roll) => form.setValue("roll", roll as typeof values.roll, { shouldDirty: true })}
          />
        )}
      </Field>
      <Field label="Remind me, days ahead" problem={slip.problem("remind_days")}>
        {(ids) => <input {...ids} {...form.register("remind_days")} inputMode="numeric" className="field text-right" />}
      </Field>
      <label className="flex min-h-9 items-center gap-2.5">
        <input type="checkbox" {...form.register("always_happens")} className="size-4.5 accent-(--ink)" />
        It always happens (direct debit): assumed until confirmed
      </label>
      <Planned
        items={planned}
        today={today}
        takenBack={taken_back}
        onChange={(next) => form.setValue("taken_back", next, { shouldDirty: true })}
      />
      <Field label="Notes" problem={slip.problem("notes")}>
        {(ids) => <textarea {...ids} {...form.register("notes")} rows={2} className="field" />}
      </Field>
    </Slip>
  );
}
