import type { UseFormReturn } from "react-hook-form";
import type { Account } from "@/shared/api/client";
import { money } from "@/shared/format";
import { Field, FieldGroup } from "@/shared/kit/fields/Field";
import { Select } from "@/shared/kit/fields/Select";
import { LoanDetails } from "./LoanDetails";
import { type LoanForm, owingOf } from "./loanForm";

export const RHYTHMS = [
  { value: "12", label: "every month" },
  { value: "24", label: "twice a month" },
  { value: "26", label: "every 2 weeks" },
  { value: "52", label: "every week" },
  { value: "4", label: "every 3 months" },
  { value: "2", label: "every 6 months" },
  { value: "1", label: "every year" },
];

export interface LoanFieldsProps {
  form: UseFormReturn<LoanForm>;
  values: LoanForm;
  currency: string;
  accounts: Account[];
  problem: (field: string) => string | undefined;
  /** In the household, or only tried: then nobody pays it, and nothing is owed yet. */
  isTried?: boolean;
  today: string;
  /** What is owed if all was paid as agreed until now; undefined while that is worked out. */
  agreed?: number | undefined;
}

/** How what is owed may be said; paid as agreed only where a payment was due before today. */
function owingChoices(values: LoanForm, today: string, agreed: number | undefined, currency: string) {
  const isBegun = values.first_payment !== "" && values.first_payment < today;
  const left = agreed === undefined ? "" : `: ${money(agreed, currency)} owed`;
  return [
    ...(isBegun ? [{ value: "agreed" as const, label: `It was paid as agreed until now${left}` }] : []),
    { value: "rest" as const, label: "It is under way: we know what is owed" },
    { value: "known" as const, label: "We know what is owed, and what was borrowed" },
    { value: "whole" as const, label: isBegun ? "Nothing was paid yet" : "All of it" },
  ];
}

/** What a loan is: how much, at what rate, paid how; the rest folded away. */
export function LoanFields({
  form,
  values,
  currency,
  accounts,
  problem,
  isTried = false,
  today,
  agreed,
}: LoanFieldsProps) {
  const { text, day } = useTypedFields(form, problem);
  const isRest = values.owing === "rest";
  return (
    <>
      <div className={`grid grid-cols-2 gap-3 ${isTried ? "@3xl:grid-cols-4" : ""}`}>
        {!isRest && text("principal", `Borrowed (${currency})`, "principal")}
        {isRest && text("owed", `Owed (${currency})`, "owed")}
        {text("rate", "Rate, % a year", "annual_rate")}
        <Field label="Paid" problem={problem("payments_per_year")}>
          {(ids) => (
            <Select
              {...ids}
              value={values.per_year}
              options={RHYTHMS}
              onChange={(next) => {
                form.setValue("per_year", next, { shouldDirty: true });
                // What the new rhythm does not offer is not kept unseen.
                if (!["26", "52"].includes(next)) form.setValue("accelerated", false, { shouldDirty: true });
              }}
            />
          )}
        </Field>
        <HowLong form={form} values={values} problem={problem("payments")} />
        {text("payment", "Payment", "payment", "Principal and interest. Empty: worked out.")}
        {!isTried && <div />}
        {day("first_payment", isRest ? "Next payment" : "First payment")}
        {day("disbursed", isRest ? "Last payment" : "Paid out on", "disbursed", "Empty: one payment before.")}
        {isRest && day("owed_on", "Owed as of", "opening.date")}
      </div>
      {!isTried && <Owing {...{ form, values, today, agreed, currency, problem }} />}
      {!isTried && (
        <div className="grid grid-cols-2 gap-3">
          <AccountChoice
            label="Paid from"
            value={values.from_account}
            accounts={accounts.filter((account) => account.kind !== "loan" && account.kind !== "escrow")}
            problem={problem("from_account")}
            onChange={(next) => form.setValue("from_account", next, { shouldDirty: true })}
          />
        </div>
      )}
      {accounts.some((account) => account.kind === "asset") && (
        <AccountChoice
          label="It is on the property"
          value={values.property}
          accounts={accounts.filter((account) => account.kind === "asset")}
          problem={problem("property")}
          onChange={(next) => form.setValue("property", next, { shouldDirty: true })}
        />
      )}
      <LoanDetails
        form={form}
        values={values}
        currency={currency}
        accounts={isTried ? null : accounts}
        problem={problem}
      />
    </>
  );
}

/** How many payments there are, or over how many years. */
function HowLong({
  form,
  values,
  problem,
}: Pick<LoanFieldsProps, "form" | "values"> & { problem: string | undefined }) {
  return (
    <Field label={howLong(values)} problem={problem}>
      {(ids) => (
        <span className="flex gap-1">
          <input
            {...ids}
            {...form.register("payments")}
            inputMode="decimal"
            autoComplete="off"
            className="field min-w-0 text-right"
          />
          <Select
            label="Counted in"
            value={values.counted_in}
            options={[
              { value: "payments", label: "payments" },
              { value: "years", label: "years" },
            ]}
            onChange={(next) => form.setValue("counted_in", next as LoanForm["counted_in"], { shouldDirty: true })}
            className="field !w-auto shrink-0"
          />
        </span>
      )}
    </Field>
  );
}

function howLong({ counted_in, owing }: LoanForm): string {
  if (counted_in === "years") return owing === "rest" ? "Years left" : "Years";
  return owing === "rest" ? "Payments left" : "Number of payments";
}

interface AccountChoiceProps {
  label: string;
  value: string;
  accounts: Account[];
  problem: string | undefined;
  onChange: (account: string) => void;
}

function AccountChoice({ label, value, accounts, problem, onChange }: AccountChoiceProps) {
  const options = [{ value: "", label: "None" }, ...accounts.map(({ id, name }) => ({ value: id, label: name }))];
  return (
    <Field label={label} problem={problem}>
      {(ids) => <Select {...ids} value={value} options={options} onChange={onChange} />}
    </Field>
  );
}

type OwingProps = Pick<LoanFieldsProps, "form" | "values" | "today" | "agreed" | "currency" | "problem">;

/** What is owed today: as agreed until now, or another sum of a day. */
function Owing({ form, values, today, agreed, currency, problem }: OwingProps) {
  const { text, day } = useTypedFields(form, problem);
  return (
    <FieldGroup label="What is owed" problem={problem("owing")}>
      {owingChoices(values, today, agreed, currency).map(({ value, label }) => (
        <label key={value} className="flex min-h-9 items-center gap-2.5">
          <input
            type="radio"
            name="owing"
            checked={owingOf(values, today) === value}
            onChange={() => form.setValue("owing", value, { shouldDirty: true })}
            className="size-4.5 accent-(--ink)"
          />
          {label}
        </label>
      ))}
      {values.owing === "known" && (
        <div className="grid grid-cols-2 gap-3">
          {text("owed", `Owed (${currency})`, "owed")}
          {day("owed_on", "As of", "opening.date")}
        </div>
      )}
    </FieldGroup>
  );
}

/** Fields of a loan by the name of what they hold. */
function useTypedFields(form: LoanFieldsProps["form"], problem: LoanFieldsProps["problem"]) {
  const text = (name: keyof LoanForm, label: string, field: string, hint?: string) => (
    <Field label={label} hint={hint} problem={problem(field)}>
      {(ids) => (
        <input
          {...ids}
          {...form.register(name as "principal")}
          inputMode="decimal"
          autoComplete="off"
          className="field text-right"
        />
      )}
    </Field>
  );
  const day = (name: "disbursed" | "first_payment" | "owed_on", label: string, field: string = name, hint?: string) => (
    <Field label={label} hint={hint} problem={problem(field)}>
      {(ids) => <input {...ids} type="date" {...form.register(name)} className="field" />}
    </Field>
  );
  return { text, day };
}
