import type { UseFormReturn } from "react-hook-form";
import { RulePicker } from "@/places/flows/slip/rhythm/RulePicker";
import { ALL_CHOSEN } from "@/places/flows/slip/rhythm/rhythm";
import type { Account } from "@/shared/api/client";
import { ChooseOne } from "@/shared/kit/fields/Choice";
import { Field, FieldGroup } from "@/shared/kit/fields/Field";
import { Select } from "@/shared/kit/fields/Select";
import type { AccountForm } from "../account/accountForm";
import type { LentForm } from "./lentForm";

const HOW = [
  { value: "as_it_comes", label: "As it comes" },
  { value: "amounts", label: "An amount on days" },
  { value: "schedule", label: "A schedule" },
] as const;
const SURE = [
  { value: "counted", label: "Count on it" },
  { value: "doubtful", label: "It may not come" },
  { value: "left_out", label: "Leave it out" },
] as const;

interface Props {
  form: UseFormReturn<AccountForm>;
  values: AccountForm;
  accounts: Account[];
  isNew: boolean;
  problem: (field: string) => string | undefined;
  set: (part: Partial<LentForm>) => void;
}

/** To whom money is lent, and how it comes back. */
export function LentFields({ form, values, accounts, isNew, problem, set }: Props) {
  const { lent } = values;
  const ownAccounts = accounts
    .filter(({ kind }) => kind !== "owed_to_us" && kind !== "asset")
    .map(({ id, name }) => ({ value: id, label: name }));
  return (
    <>
      <Field label="Lent to" hint="Empty: the account's name." problem={problem("lent.to")}>
        {(ids) => <input {...ids} {...form.register("lent.to")} autoComplete="off" className="field" />}
      </Field>
      {isNew && (
        <Field label="Taken from" hint="The money leaves that account on the day." problem={problem("legs")}>
          {(ids) => (
            <Select
              {...ids}
              value={lent.from}
              options={[{ value: "", label: "Nowhere: it was lent before" }, ...ownAccounts]}
              onChange={(from) => set({ from })}
            />
          )}
        </Field>
      )}
      <Field label="Comes back into" problem={problem("lent.into_account")}>
        {(ids) => (
          <Select
            {...ids}
            value={lent.into}
            options={[{ value: "", label: "Asked each time" }, ...ownAccounts]}
            onChange={(into) => set({ into })}
          />
        )}
      </Field>
      <FieldGroup label="How it comes back" problem={problem("lent.repays")}>
        <ChooseOne
          label="How it comes back"
          value={lent.how}
          options={HOW}
          onChange={(how) => set({ how: how as LentForm["how"] })}
        />
      </FieldGroup>
      {lent.how === "amounts" && <Amounts form={form} values={values} problem={problem} set={set} />}
      {lent.how === "schedule" && (
        <div className="grid grid-cols-2 gap-3">
          <Field label="Payments" problem={problem("lent.terms.payments")}>
            {(ids) => (
              <input {...ids} {...form.register("lent.count")} inputMode="numeric" className="field text-right" />
            )}
          </Field>
          <Field label="First payment" problem={problem("lent.terms.first_payment")}>
            {(ids) => <input {...ids} type="date" {...form.register("lent.first")} className="field" />}
          </Field>
        </div>
      )}
      <Field
        label="Interest, % a year"
        hint="Empty: none."
        problem={problem("lent.annual_rate") ?? problem("lent.terms.annual_rate")}
      >
        {(ids) => (
          <input {...ids} {...form.register("lent.percent")} inputMode="decimal" className="field !w-32 text-right" />
        )}
      </Field>
      <FieldGroup label="How sure it is">
        <ChooseOne
          label="How sure it is"
          value={lent.sure}
          options={SURE}
          onChange={(sure) => set({ sure: sure as LentForm["sure"] })}
        />
      </FieldGroup>
    </>
  );
}

function Amounts({ form, values, problem, set }: Pick<Props, "form" | "values" | "problem" | "set">) {
  return (
    <>
      <div className="grid grid-cols-2 gap-3">
        <Field label="Each time" problem={problem("lent.repays.amount")}>
          {(ids) => (
            <input {...ids} {...form.register("lent.amount")} inputMode="decimal" className="field text-right" />
          )}
        </Field>
        <Field label="From" problem={problem("lent.repays.start")}>
          {(ids) => <input {...ids} type="date" {...form.register("lent.start")} className="field" />}
        </Field>
      </div>
      <RulePicker
        chosen={ALL_CHOSEN}
        rule={values.lent.rule}
        start={values.lent.start}
        sentence={undefined}
        problem={problem("lent.repays.rules.0") ?? problem("lent.repays.rules")}
        onChange={(rule) => set({ rule })}
      />
    </>
  );
}
