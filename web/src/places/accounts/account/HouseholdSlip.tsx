import type { ChangeRequest, Schemas } from "@/shared/api/client";
import { useHousehold } from "@/shared/api/hooks";
import { Field } from "@/shared/kit/fields/Field";
import { Select } from "@/shared/kit/fields/Select";
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
  const { name = "", currency, country, past_due = "carry", notation, week_starts, date_order } = data.household;
  const initial = {
    name,
    currency,
    country: country ?? "",
    past_due,
    notation: notation ?? "",
    week_starts: week_starts ?? "",
    date_order: date_order ?? "",
  };
  const { form, values, isDirty } = useSlipForm(initial);
  const changes: ChangeRequest[] = [{ op: "update", kind: "household", id: "household", value: written(values) }];
  const slip = useSlip(isDirty ? changes : null, () => true);
  const countries = [{ value: "", label: "None: weekends only" }, ...countryOptions(data.countries)];
  const currencies = Object.keys(data.decimals).sort();
  return (
    <Slip
      title="The household"
      saveName="Save"
      isSaving={slip.isSaving}
      problem={slip.otherProblem(["name", "currency", "country", "past_due", "notation", "week_starts", "date_order"])}
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
      {WRITING.map(({ name, label, options }) => (
        <Field key={name} label={label} problem={slip.problem(name)}>
          {(ids) => (
            <Select
              {...ids}
              value={values[name]}
              options={[{ value: "", label: "As in its country" }, ...options]}
              onChange={(next) => form.setValue(name, next as never, { shouldDirty: true })}
            />
          )}
        </Field>
      ))}
    </Slip>
  );
}

/** What is left to the country is written as nothing. */
function written<Values extends Record<string, string>>(values: Values) {
  const open = ["country", "notation", "week_starts", "date_order"];
  return Object.fromEntries(
    Object.entries(values).map(([name, value]) => [name, value === "" && open.includes(name) ? null : value]),
  );
}

const WRITING = [
  {
    name: "notation",
    label: "Amounts are written",
    options: ["1,234.56", "1.234,56", "1 234,56"].map((text) => ({ value: text, label: text })),
  },
  {
    name: "date_order",
    label: "Dates are written",
    options: [
      { value: "month_first", label: "Mar 18" },
      { value: "day_first", label: "18 Mar" },
    ],
  },
  {
    name: "week_starts",
    label: "Weeks begin on",
    options: [
      { value: "MO", label: "Monday" },
      { value: "SU", label: "Sunday" },
      { value: "SA", label: "Saturday" },
    ],
  },
] as const;

function countryOptions(codes: string[]) {
  const names = new Intl.DisplayNames(["en"], { type: "region" });
  return codes
    .map((code) => ({ value: code, label: names.of(code) ?? code }))
    .sort((one, other) => one.label.localeCompare(other.label));
}
