import type { UseFormReturn } from "react-hook-form";
import { RulePicker } from "@/places/flows/slip/rhythm/RulePicker";
import { ALL_CHOSEN } from "@/places/flows/slip/rhythm/rhythm";
import type { Account } from "@/shared/api/client";
import { ChooseOne } from "@/shared/kit/fields/Choice";
import { Field, FieldGroup } from "@/shared/kit/fields/Field";
import { Select } from "@/shared/kit/fields/Select";
import type { AccountForm, SavingsForm, SweepForm } from "./accountForm";

const EARNS = [
  { value: "nothing", label: "Nothing" },
  { value: "apy", label: "A yield (APY)" },
  { value: "rate", label: "A plain rate" },
] as const;
const HOW = {
  compounding: [
    { value: "daily", label: "Interest earns interest day by day" },
    { value: "none", label: "Interest earns nothing until it is credited" },
  ],
  movements_earn: [
    { value: "same_day", label: "Money earns from the day it arrives" },
    { value: "next_day", label: "Money earns from the day after" },
  ],
  basis: [
    { value: "365", label: "A year has 365 days" },
    { value: "actual", label: "A leap year has 366 days" },
    { value: "360", label: "A year has 360 days" },
  ],
  rounding: [
    { value: "at_credit", label: "Rounded once a month" },
    { value: "daily", label: "Rounded every day" },
  ],
} as const;

interface Props {
  form: UseFormReturn<AccountForm>;
  values: AccountForm;
  problem: (field: string) => string | undefined;
}

/** What an account earns, and how the bank counts it; the common way is chosen already. */
export function SavingsFields({ form, values, problem, set }: Props & { set: (part: Partial<SavingsForm>) => void }) {
  const { savings } = values;
  const isEarning = savings.earns !== "nothing";
  return (
    <>
      <FieldGroup label="What it earns">
        <ChooseOne
          label="What it earns"
          value={savings.earns}
          options={EARNS}
          onChange={(earns) => set({ earns: earns as SavingsForm["earns"] })}
        />
      </FieldGroup>
      {isEarning && (
        <Field
          label={savings.earns === "apy" ? "Yield, % a year" : "Rate, % a year"}
          hint="Credited on each month's last day."
          problem={problem("savings.apy") ?? problem("savings.rate")}
        >
          {(ids) => (
            <input
              {...ids}
              {...form.register("savings.percent")}
              inputMode="decimal"
              autoComplete="off"
              className="field !w-28 text-right"
            />
          )}
        </Field>
      )}
      {isEarning && (
        <details>
          <summary className="min-h-9 cursor-pointer text-copper">How the bank counts</summary>
          <div className="mt-1 flex flex-col gap-2">
            {(["compounding", "movements_earn", "basis", "rounding"] as const).map((name) => (
              <Select
                key={name}
                label={HOW[name][0].label}
                value={savings[name]}
                options={HOW[name]}
                onChange={(value) => set({ [name]: value })}
              />
            ))}
          </div>
        </details>
      )}
    </>
  );
}

/** Kept between two amounts by moving to and from another account. */
export function SweepFields({
  form,
  values,
  problem,
  accounts,
  set,
}: Props & { accounts: Account[]; set: (part: Partial<SweepForm>) => void }) {
  const { sweep } = values;
  const amount = (name: "least" | "most", label: string, hint?: string) => (
    <Field label={label} hint={hint} problem={problem(`sweep.${name}`)}>
      {(ids) => (
        <input
          {...ids}
          {...form.register(`sweep.${name}`)}
          inputMode="decimal"
          autoComplete="off"
          className="field text-right"
        />
      )}
    </Field>
  );
  return (
    <>
      <label className="flex min-h-9 items-center gap-2">
        <input
          type="checkbox"
          checked={sweep.is_on}
          onChange={(event) => set({ is_on: event.target.checked })}
          className="size-4.5 accent-(--ink)"
        />
        Keep it between two amounts
      </label>
      {sweep.is_on && (
        <>
          <div className="grid grid-cols-2 gap-3">
            {amount("least", "Below this it takes")}
            {amount("most", "Above this it gives", "Empty: it gives nothing.")}
          </div>
          <Field label="With" problem={problem("sweep.with")}>
            {(ids) => (
              <Select
                {...ids}
                value={sweep.partner}
                options={accounts.map((account) => ({ value: account.id, label: account.name }))}
                onChange={(partner) => set({ partner })}
              />
            )}
          </Field>
          <FieldGroup label="It looks">
            <RulePicker
              chosen={ALL_CHOSEN}
              rule={sweep.rule}
              start={values.date}
              sentence={undefined}
              problem={problem("sweep.rules.0") ?? problem("sweep.rules")}
              onChange={(rule) => set({ rule })}
            />
          </FieldGroup>
        </>
      )}
    </>
  );
}
