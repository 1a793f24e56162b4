import type { UseFormReturn } from "react-hook-form";
import type { Account } from "@/shared/api/client";
import { Fold } from "@/shared/kit/Fold";
import { CategorySelect } from "@/shared/kit/fields/CategorySelect";
import { Field, FieldGroup } from "@/shared/kit/fields/Field";
import { Select } from "@/shared/kit/fields/Select";
import type { FlowForm } from "./flowForm";
import { PropertyFields } from "./PropertyFields";
import { MONTHS } from "./rhythm/rhythm";
import { SplitFields } from "./SplitFields";

interface Props {
  values: FlowForm;
  form: UseFormReturn<FlowForm>;
  accounts: Account[];
  problem: (field: string) => string | undefined;
}

/** What most flows do without: a varying amount, seasons, growth, parts, reminders. Open where something is set. */
export function MoreFields({ values, form, accounts, problem }: Props) {
  const isSet =
    values.payee !== "" ||
    values.estimate ||
    values.subscription ||
    values.always_happens ||
    values.growth !== "" ||
    values.splits.length > 0 ||
    values.property !== "" ||
    values.late_days !== "0" ||
    values.may_skip ||
    values.may_pause ||
    values.seasonal.some(Boolean);
  return (
    <>
      {values.kind !== "transfer" && (
        <Field label="Category" problem={problem("category")}>
          {(ids) => (
            <CategorySelect
              {...ids}
              kind={values.kind === "income" ? "income" : "expense"}
              value={values.category}
              onChange={(category) => form.setValue("category", category, { shouldDirty: true })}
              before={[{ value: "", label: "None" }]}
            />
          )}
        </Field>
      )}
      <Fold label="Payee, seasons, growth, parts and reminders" isSet={isSet}>
        <Field label="Payee" problem={problem("payee")}>
          {(ids) => <input {...ids} {...form.register("payee")} autoComplete="off" className="field" />}
        </Field>
        <Switches form={form} />
        {values.estimate && (
          <Field label="Expect" problem={problem("follows")}>
            {(ids) => (
              <Select
                {...ids}
                value={values.follows}
                onChange={(follows) => form.setValue("follows", follows, { shouldDirty: true })}
                options={FOLLOWED}
              />
            )}
          </Field>
        )}
        <Reminders form={form} problem={problem} />
        <div className="grid grid-cols-2 gap-3">
          <Field label="Grows by, % a year" problem={problem("growth")}>
            {(ids) => <input {...ids} {...form.register("growth")} inputMode="decimal" className="field text-right" />}
          </Field>
          {values.growth !== "" && (
            <Field label="From">
              {(ids) => <input {...ids} type="date" {...form.register("growth_from")} className="field" />}
            </Field>
          )}
        </div>
        <Seasons form={form} problem={problem} />
        {values.kind === "bill" && <WhenShort form={form} problem={problem} />}
        {values.kind !== "transfer" && (
          <PropertyFields values={values} form={form} accounts={accounts} problem={problem} />
        )}
        <SplitFields
          values={values}
          accounts={accounts}
          problem={problem("splits")}
          onChange={(splits) => form.setValue("splits", splits, { shouldDirty: true })}
        />
      </Fold>
    </>
  );
}

const FOLLOWED = [
  { value: "0", label: "the amount above" },
  ...[1, 2, 3, 4, 6, 12, 24].map((count) => ({
    value: String(count),
    label: count === 1 ? "what was settled last" : `the average of the last ${count} settled`,
  })),
];

/** How it may give way when money runs short. */
function WhenShort({ form, problem }: { form: UseFormReturn<FlowForm>; problem: Props["problem"] }) {
  return (
    <FieldGroup label="When money is short" problem={problem("may_skip")}>
      <div className="flex flex-wrap items-end gap-x-4">
        <Field label="May be paid later by, days" problem={problem("late_days")}>
          {(ids) => (
            <input {...ids} {...form.register("late_days")} inputMode="numeric" className="field !w-24 text-right" />
          )}
        </Field>
        <label className="flex min-h-10 items-center gap-2">
          <input type="checkbox" {...form.register("may_skip")} className="size-4.5 accent-(--ink)" />
          May be left out once
        </label>
        <label className="flex min-h-10 items-center gap-2">
          <input type="checkbox" {...form.register("may_pause")} className="size-4.5 accent-(--ink)" />
          May pause
        </label>
      </div>
    </FieldGroup>
  );
}

function Switches({ form }: { form: UseFormReturn<FlowForm> }) {
  return (
    <div className="flex flex-col">
      <label className="flex min-h-9 items-center gap-2.5">
        <input type="checkbox" {...form.register("estimate")} className="size-4.5 accent-(--ink)" />
        The amount varies: this is an estimate
      </label>
      <label className="flex min-h-9 items-center gap-2.5">
        <input type="checkbox" {...form.register("subscription")} className="size-4.5 accent-(--ink)" />
        It is a subscription
      </label>
      {form.watch("subscription") && (
        <Field label="Last paid before you began here">
          {(ids) => <input {...ids} type="date" {...form.register("last_paid")} className="field !w-44" />}
        </Field>
      )}
      <label className="flex min-h-9 items-center gap-2.5">
        <input type="checkbox" {...form.register("always_happens")} className="size-4.5 accent-(--ink)" />
        It always happens (direct debit): assumed until confirmed
      </label>
    </div>
  );
}

/** An amount of its own for each month that has one. */
function Seasons({ form, problem }: Pick<Props, "form" | "problem">) {
  return (
    <FieldGroup label="Another amount in some months" problem={problem("seasonal")}>
      <div className="grid grid-cols-3 gap-1.5">
        {MONTHS.map((month, place) => (
          <label key={month.value} className="flex items-center gap-1.5 text-sm text-pencil">
            <span className="w-8">{month.label}</span>
            <input
              {...form.register(`seasonal.${place}`)}
              inputMode="decimal"
              className="field !min-h-9 !px-1.5 text-right text-ink"
            />
          </label>
        ))}
      </div>
    </FieldGroup>
  );
}

/** When one is reminded of it, here and in a calendar. */
function Reminders({ form, problem }: Pick<Props, "form" | "problem">) {
  return (
    <div className="grid grid-cols-2 gap-3">
      <Field label="Remind me, days ahead" problem={problem("remind_days")}>
        {(ids) => <input {...ids} {...form.register("remind_days")} inputMode="numeric" className="field text-right" />}
      </Field>
      <Field label="Rings in the calendar, days before" problem={problem("alarm_days")}>
        {(ids) => <input {...ids} {...form.register("alarm_days")} inputMode="numeric" className="field text-right" />}
      </Field>
    </div>
  );
}
