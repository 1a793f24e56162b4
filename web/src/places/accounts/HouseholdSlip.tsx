import type { ChangeRequest, Schemas } from "@/shared/api/client";
import { useHousehold } from "@/shared/api/hooks";
import { Field } from "@/shared/kit/Field";
import { Select } from "@/shared/kit/Select";
import { Slip } from "@/shared/slip/Slip";
import { useSlip } from "@/shared/slip/useSlip";
import { useSlipForm } from "@/shared/slip/useSlipForm";

type Household = Schemas["HouseholdAnswer"];

/** The household's name, currency, country, and how it sees what is past due. */
export function HouseholdSlip() {
  const data = useHousehold().data;
  return data ? <Editor data={data} /> : null;
}

function Editor({ data }: { data: Household }) {
  const { name = "", currency, country, past_due = "carry" } = data.household;
  const initial = { name, currency, country: country ?? "", past_due };
  const { form, values, isDirty } = useSlipForm(initial);
  const changes: ChangeRequest[] = [
    { op: "update", kind: "household", id: "household", value: { ...values, country: values.country || null } },
  ];
  const slip = useSlip(isDirty ? changes : null, () => true);
  const countries = [{ value: "", label: "None: weekends only" }, ...countryOptions(data.countries)];
  const currencies = Object.keys(data.decimals).sort();
  return (
    <Slip
      title="The household"
      saveName="Save"
      isSaving={slip.isSaving}
      problem={slip.otherProblem(["name", "currency", "country", "past_due"])}
      onSave={() => slip.save(changes, "Saved")}
    >
      <Field label="Name" problem={slip.problem("name")}>
        {(ids) => <input {...ids} {...form.register("name")} autoComplete="off" className="field" />}
      </Field>
      <Field label="Currency of totals" problem={slip.problem("currency")}>
        {(ids) => (
          <Select
            {...ids}
            value={values.currency}
            options={currencies.map((code) => ({ value: code, label: code }))}
            onChange={(next) => form.setValue("currency", next, { shouldDirty: true })}
          />
        )}
      </Field>
      <Field label="Bank holidays of" problem={slip.problem("country")}>
        {(ids) => (
          <Select
            {...ids}
            value={values.country}
            options={countries}
            onChange={(next) => form.setValue("country", next, { shouldDirty: true })}
          />
        )}
      </Field>
      <Field label="What is past due and not settled">
        {(ids) => (
          <Select
            {...ids}
            value={values.past_due}
            options={[
              { value: "carry", label: "is expected today" },
              { value: "ignore", label: "is left out of the forecast" },
            ]}
            onChange={(next) => form.setValue("past_due", next as typeof past_due, { shouldDirty: true })}
          />
        )}
      </Field>
    </Slip>
  );
}

function countryOptions(codes: string[]) {
  const names = new Intl.DisplayNames(["en"], { type: "region" });
  return codes
    .map((code) => ({ value: code, label: names.of(code) ?? code }))
    .sort((one, other) => one.label.localeCompare(other.label));
}
