import type { UseFormReturn } from "react-hook-form";
import { MONTHS } from "@/places/flows/slip/rhythm/rhythm";
import type { Account } from "@/shared/api/client";
import { Fold } from "@/shared/kit/Fold";
import { Field, FieldGroup } from "@/shared/kit/fields/Field";
import { Select } from "@/shared/kit/fields/Select";
import { AddRow, RemoveRow } from "@/shared/kit/RowButtons";
import { EscrowKept } from "./EscrowKept";
import { LenderRows } from "./LenderRows";
import { type DatedForm, type ExtraForm, type FeeForm, type LoanForm, NEW_ESCROW } from "./loanForm";
import { MethodField } from "./MethodField";
import { YearsBefore } from "./YearsBefore";

interface Props {
  form: UseFormReturn<LoanForm>;
  values: LoanForm;
  currency: string;
  /** The household's accounts; none for a loan that is only tried. */
  accounts: Account[] | null;
  problem: (field: string) => string | undefined;
}

/** Everything that most loans do without, each list with its own rows. */
export function LoanDetails({ form, values, currency, accounts, problem }: Props) {
  const set = <Name extends keyof LoanForm>(name: Name, value: LoanForm[Name]) =>
    form.setValue(name, value as never, { shouldDirty: true });
  const tick = (name: keyof LoanForm, label: string) => (
    <label className="flex min-h-9 items-center gap-2.5">
      <input type="checkbox" {...form.register(name as "accelerated")} className="size-4.5 accent-(--ink)" />
      {label}
    </label>
  );
  const text = (name: keyof LoanForm, label: string, field: string) => (
    <Field label={label} problem={problem(field)}>
      {(ids) => (
        <input {...ids} {...form.register(name as "balloon")} inputMode="decimal" className="field text-right" />
      )}
    </Field>
  );
  return (
    <Fold label="Extras, rate changes, escrow, fees and more" isSet={hasDetails(values)}>
      <ExtraRows list={values.extras} problem={problem("extras")} onChange={(extras) => set("extras", extras)} />
      {values.extras.length > 0 && tick("recasts", "Extras lower the payment, and the end stays")}
      <DatedRows
        title="The rate changes"
        what="Rate, %"
        add="Another rate from a day on"
        list={values.rate_changes}
        problem={problem("rate_changes")}
        onChange={(list) => set("rate_changes", list)}
      />
      {values.rate_changes.length > 0 && tick("keeps_payment", "The payment stays, and the end moves")}
      <DatedRows
        title="The payment changes"
        what={`Payment (${currency})`}
        add="Another payment from a day on"
        list={values.payment_changes}
        problem={problem("payment_changes")}
        onChange={(list) => set("payment_changes", list)}
      />
      <DatedRows
        title="Escrow in each payment"
        what={`Escrow (${currency})`}
        add="An escrow part from a day on"
        list={values.escrow}
        problem={problem("escrow")}
        onChange={(list) => {
          // Its parts are kept in an account of their own, unless another is chosen.
          if (values.escrow.length === 0 && values.escrow_account === "" && accounts) set("escrow_account", NEW_ESCROW);
          set("escrow", list);
        }}
      />
      {accounts && values.escrow.length > 0 && (
        <EscrowKept form={form} values={values} accounts={accounts} currency={currency} problem={problem} />
      )}
      <LenderRows list={values.lenders} problem={problem("lenders")} onChange={(list) => set("lenders", list)} />
      {accounts && (
        <YearsBefore
          list={values.years_before}
          problem={problem("years_before")}
          onChange={(list) => set("years_before", list)}
        />
      )}
      <FeeRows list={values.fees} problem={problem("fees")} onChange={(fees) => set("fees", fees)} />
      <MethodField values={values} problem={problem} onChange={(method) => set("interest", method)} />
      <div className="grid grid-cols-2 gap-3">
        {text("balloon", "Balloon with the last", "balloon")}
        {text("interest_only", "Payments of interest alone", "interest_only")}
        {text("insurance", "Mortgage insurance", "insurance")}
        {values.insurance && text("insurance_share", "until the balance is, %", "insurance")}
        {values.insurance && text("insurance_value", "of the value", "insurance")}
      </div>
      <div>
        {["26", "52"].includes(values.per_year) && tick("accelerated", "Accelerated: half or a quarter of the monthly")}
        {tick("rounds_up", "The lender rounds the payment up")}
        {tick("negative_amortization", "Unpaid interest may join what is owed")}
      </div>
    </Fold>
  );
}

interface DatedRowsProps {
  title: string;
  what: string;
  add: string;
  list: DatedForm[];
  problem: string | undefined;
  onChange: (list: DatedForm[]) => void;
}

function DatedRows({ title, what, add, list, problem, onChange }: DatedRowsProps) {
  const set = (place: number, part: Partial<DatedForm>) =>
    onChange(list.map((datedForm, at) => (at === place ? { ...datedForm, ...part } : datedForm)));
  return (
    <FieldGroup label={title} problem={problem}>
      {list.map((datedForm, place) => (
        // biome-ignore lint/suspicious/noArrayIndexKey: rows being written have no identity but their place
        <div key={place} className="mb-1.5 flex gap-1.5">
          <input
            type="date"
            aria-label={`${title}, from, ${place + 1}`}
            value={datedForm.from}
            onChange={(event) => set(place, { from: event.target.value })}
            className="field"
          />
          <input
            aria-label={`${what}, ${place + 1}`}
            inputMode="decimal"
            placeholder={what}
            value={datedForm.value}
            onChange={(event) => set(place, { value: event.target.value })}
            className="field text-right"
          />
          <RemoveRow
            name={`Remove ${title.toLowerCase()}, ${place + 1}`}
            onClick={() => onChange(list.filter((_, at) => at !== place))}
          />
        </div>
      ))}
      <AddRow name={add} onClick={() => onChange([...list, { from: "", value: "" }])} />
    </FieldGroup>
  );
}

const SHAPES = [
  { value: "every", label: "with every payment" },
  { value: "date", label: "on one day" },
  { value: "yearly", label: "every year in" },
];
const EVERY = Array.from({ length: 12 }, (_, n) => ({
  value: String(n + 1),
  label: n === 0 ? "every payment" : `every ${n + 1} payments`,
}));

interface ExtraRowsProps {
  list: ExtraForm[];
  problem: string | undefined;
  onChange: (list: ExtraForm[]) => void;
}

function ExtraRows({ list, problem, onChange }: ExtraRowsProps) {
  const set = (place: number, part: Partial<ExtraForm>) =>
    onChange(list.map((extraForm, at) => (at === place ? { ...extraForm, ...part } : extraForm)));
  const blank: ExtraForm = { shape: "every", amount: "", date: "", every: "1", month: "1", from: "", to: "" };
  return (
    <FieldGroup label="Extra payments of principal" problem={problem}>
      {list.map((extraForm, place) => (
        // biome-ignore lint/suspicious/noArrayIndexKey: rows being written have no identity but their place
        <div key={place} className="mb-2 flex flex-wrap gap-1.5 border-l-2 border-rule pl-2">
          <input
            aria-label={`Extra ${place + 1}, amount`}
            inputMode="decimal"
            placeholder="Amount"
            value={extraForm.amount}
            onChange={(event) => set(place, { amount: event.target.value })}
            className="field !w-28 text-right"
          />
          <Select
            label={`Extra ${place + 1}, when`}
            value={extraForm.shape}
            options={SHAPES}
            onChange={(shape) => set(place, { shape: shape as ExtraForm["shape"] })}
            className="field !w-48"
          />
          <RemoveRow
            name={`Remove extra ${place + 1}`}
            onClick={() => onChange(list.filter((_, at) => at !== place))}
          />
          {extraForm.shape === "every" && (
            <Select
              label={`Extra ${place + 1}, with`}
              value={extraForm.every}
              options={EVERY}
              onChange={(every) => set(place, { every })}
              className="field !w-40"
            />
          )}
          {extraForm.shape === "yearly" && (
            <Select
              label={`Extra ${place + 1}, month`}
              value={extraForm.month}
              options={MONTHS.map(({ value, label }) => ({ value, label }))}
              onChange={(month) => set(place, { month })}
              className="field !w-28"
            />
          )}
          {(extraForm.shape === "date" ? (["date"] as const) : (["from", "to"] as const)).map((name) => (
            <input
              key={name}
              type="date"
              aria-label={`Extra ${place + 1}, ${name === "date" ? "on" : name}`}
              value={extraForm[name]}
              onChange={(event) => set(place, { [name]: event.target.value })}
              className="field !w-40"
            />
          ))}
        </div>
      ))}
      <AddRow name="An extra" onClick={() => onChange([...list, blank])} />
    </FieldGroup>
  );
}

interface FeeRowsProps {
  list: FeeForm[];
  problem: string | undefined;
  onChange: (list: FeeForm[]) => void;
}

function FeeRows({ list, problem, onChange }: FeeRowsProps) {
  const set = (place: number, part: Partial<FeeForm>) =>
    onChange(list.map((feeForm, at) => (at === place ? { ...feeForm, ...part } : feeForm)));
  return (
    <FieldGroup label="Fees" problem={problem}>
      {list.map((feeForm, place) => (
        // biome-ignore lint/suspicious/noArrayIndexKey: rows being written have no identity but their place
        <div key={place} className="mb-1.5 flex items-center gap-1.5">
          <input
            aria-label={`Fee ${place + 1}, name`}
            placeholder="What for"
            value={feeForm.name}
            onChange={(event) => set(place, { name: event.target.value })}
            className="field"
          />
          <input
            aria-label={`Fee ${place + 1}, amount`}
            inputMode="decimal"
            value={feeForm.amount}
            onChange={(event) => set(place, { amount: event.target.value })}
            className="field !w-28 text-right"
          />
          <label className="flex shrink-0 items-center gap-1.5 text-sm">
            <input
              type="checkbox"
              checked={feeForm.financed}
              onChange={(event) => set(place, { financed: event.target.checked })}
              className="size-4.5 accent-(--ink)"
            />
            financed
          </label>
          <RemoveRow name={`Remove fee ${place + 1}`} onClick={() => onChange(list.filter((_, at) => at !== place))} />
        </div>
      ))}
      <AddRow name="A fee" onClick={() => onChange([...list, { name: "", amount: "", financed: false }])} />
    </FieldGroup>
  );
}

/** Whether a loan has anything that most do without. */
function hasDetails(values: LoanForm): boolean {
  return (
    values.rate_changes.length +
      values.extras.length +
      values.fees.length +
      values.escrow.length +
      values.lenders.length +
      values.years_before.length >
      0 ||
    values.interest !== "equal_periods" ||
    Boolean(values.balloon || values.interest_only || values.insurance)
  );
}
