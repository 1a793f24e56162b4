import { useAllowances } from "@/places/ahead/Allowances";
import { Planned, type PlannedItem, takingBack } from "@/places/flows/Planned";
import { touched } from "@/places/flows/slip/readFlow";
import { WEEKDAYS } from "@/places/flows/slip/rhythm/rhythm";
import type { ChangeRequest, Schemas } from "@/shared/api/client";
import { useEntryChoices, useHousehold, useOffered } from "@/shared/api/hooks";
import { dayText, digits, money, readAmount } from "@/shared/format";
import { ChooseMany, ChooseOne } from "@/shared/kit/fields/Choice";
import { Field, FieldGroup } from "@/shared/kit/fields/Field";
import { NewCategory } from "@/shared/kit/fields/NewCategory";
import { Select } from "@/shared/kit/fields/Select";
import { Slip } from "@/shared/slip/Slip";
import { useSlip } from "@/shared/slip/useSlip";
import { type SlipForm, useSlipForm } from "@/shared/slip/useSlipForm";

type Allowance = Schemas["Allowance"];

interface AllowanceForm {
  name: string;
  limit: string;
  since: string;
  period: NonNullable<Allowance["period"]>;
  week_starts: NonNullable<Allowance["week_starts"]>;
  categories: string[];
  account: string;
  timing: NonNullable<Allowance["timing"]>;
  carry: NonNullable<Allowance["carry"]>;
  taken_back: string[];
}

/** Create or edit an allowance: spending with no fixed date, held back in the forecast. */
export function AllowanceSlip({ id }: { id: string | null }) {
  const rows = useAllowances().data?.allowances;
  const accounts = useOffered()?.filter((offered) => offered.may_hold_back);
  const choices = useEntryChoices().data;
  const { beginnings, today } = useHousehold().data ?? {};
  if (!rows || !accounts || !choices || !beginnings || !today) return null;
  const row = rows.find(({ allowance }) => allowance.id === id);
  const list = accounts.map(({ account }) => account);
  const initial = row ? formOf(row) : emptyForm(beginnings.account ?? "");
  return (
    <Editor
      existing={row?.allowance ?? null}
      initial={initial}
      accounts={list}
      categories={choices.categories.filter((category) => category.kind === "expense")}
      begin={beginnings.allowance_from}
      today={today}
      planned={row ? plannedLimits(row, today) : []}
    />
  );
}

function emptyForm(account: string): AllowanceForm {
  return {
    name: "",
    limit: "",
    since: "",
    period: "month",
    week_starts: "MO",
    categories: [],
    account,
    timing: "evenly",
    carry: "none",
    taken_back: [],
  };
}

function formOf({ allowance, currency, limit_now }: Schemas["AllowanceRow"]): AllowanceForm {
  return {
    ...emptyForm(allowance.account),
    ...allowance,
    categories: [...(allowance.categories ?? [])],
    limit: digits(limit_now, currency),
    since: "",
  };
}

interface EditorProps {
  existing: Allowance | null;
  initial: AllowanceForm;
  accounts: Schemas["Account"][];
  categories: Schemas["Category"][];
  begin: string;
  today: string;
  planned: PlannedItem[];
}

function Editor({ existing, initial, accounts, categories, begin, today, planned }: EditorProps) {
  const { form, values, newId, isDirty, isTouched, set } = useSlipForm(initial);
  const currency = accounts.find((account) => account.id === values.account)?.currency ?? "USD";
  const read = readAmount(values.limit, currency);
  const own = ownCategory(values, categories, newId);
  const full = { ...values, categories: own ? [own.id] : values.categories };
  const change: ChangeRequest | null =
    "amount" in read ? changeOf(full, read.amount, existing && { id: existing.id, initial }, newId, begin) : null;
  const changes = change && [
    ...takingBack("allowance", change.id ?? "", planned, values.taken_back),
    ...(own?.made ?? []),
    change,
  ];
  const isReady = existing ? isDirty : values.name.trim() !== "";
  const slip = useSlip(changes && isReady ? changes : null, isTouched);
  const onSave = () => {
    slip.trySaving();
    if (changes) slip.save(changes, "Saved");
    else form.setFocus("limit");
  };
  const limitProblem = "problem" in read && (values.limit || slip.wasTried) ? read.problem : slip.problem("limit");
  return (
    <Slip
      title={existing?.name ?? "New allowance"}
      saveName={existing ? "Save" : "Add to the plan"}
      isSaving={slip.isSaving}
      problem={slip.otherProblem(["name", "limit", "categories", "account"])}
      isNew={!existing}
      onSave={onSave}
      onDelete={
        existing ? () => slip.save([{ op: "remove", kind: "allowance", id: existing.id }], "Deleted") : undefined
      }
    >
      <Field label="Name" problem={slip.problem("name")}>
        {(ids) => <input {...ids} {...form.register("name")} autoComplete="off" className="field" />}
      </Field>
      <div className="grid grid-cols-2 gap-3">
        <Field label={`Limit (${currency})`} problem={limitProblem}>
          {(ids) => <input {...ids} {...form.register("limit")} inputMode="decimal" className="field text-right" />}
        </Field>
        {existing && (
          <Field label="Limit from" hint="Empty: as it always was.">
            {(ids) => <input {...ids} type="date" {...form.register("since")} className="field" />}
          </Field>
        )}
      </div>
      <PeriodFields values={values} set={set} />
      <CategoriesField
        {...{ values, set, categories, own }}
        problem={slip.problem("categories")}
        onMade={(category) => set("categories", [...form.getValues("categories"), category])}
      />
      <Field label="Paid from" problem={slip.problem("account")}>
        {(ids) => (
          <Select
            {...ids}
            value={values.account}
            onChange={(account) => set("account", account)}
            options={accounts.map(({ id, name }) => ({ value: id, label: name }))}
          />
        )}
      </Field>
      <LeftFields values={values} set={set} />
      <Planned
        items={planned}
        today={today}
        takenBack={values.taken_back}
        onChange={(next) => set("taken_back", next)}
      />
    </Slip>
  );
}

/** Where no category is chosen: the one of the allowance's own name, which is made if there is none. */
function ownCategory(form: AllowanceForm, categories: Schemas["Category"][], newId: string) {
  const name = form.name.trim();
  if (form.categories.length > 0 || !name) return null;
  const known = categories.find((category) => category.name.toLowerCase() === name.toLowerCase());
  if (known) return { id: known.id, made: [] };
  const id = `${newId}-spent`;
  const made: ChangeRequest[] = [{ op: "add", kind: "category", id, value: { name, kind: "expense" } }];
  return { id, made };
}

/** The limits that hold from later periods on. */
function plannedLimits({ allowance, currency }: Schemas["AllowanceRow"], today: string): PlannedItem[] {
  return (allowance.revisions ?? []).map(({ from, limit }) => ({
    undo: { op: "revise", from, value: null },
    day: from,
    text: `From ${dayText(from, today)}: ${money(limit, currency)}`,
  }));
}

interface Existing {
  id: string;
  initial: AllowanceForm;
}

/** What is said to the app: a new allowance, or another limit from a day on, or as if it had always been so. */
function changeOf(form: AllowanceForm, limit: number, existing: Existing | null, newId: string, begin: string) {
  const fields = fieldsOf(form);
  const said = { kind: "allowance" as const, id: existing?.id ?? newId };
  if (!existing) return { op: "add" as const, ...said, value: { ...fields, limit, from: begin } };
  const isOther = form.limit !== existing.initial.limit || form.since !== "";
  const value = { ...touched(fields, fieldsOf(existing.initial)), ...(isOther && { limit }) };
  return { op: "revise" as const, ...said, value, from: form.since || null };
}

function fieldsOf({ name, period, week_starts, categories, account, timing, carry }: AllowanceForm) {
  return { name: name.trim(), period, week_starts, categories, account, timing, carry };
}

type FieldsProps = Pick<SlipForm<AllowanceForm>, "values" | "set">;

/** How long a period is, and when it begins. */
function PeriodFields({ values, set }: FieldsProps) {
  return (
    <>
      {" "}
      <FieldGroup label="Every">
        <ChooseOne
          label="Period"
          value={values.period}
          onChange={(period) => set("period", period as AllowanceForm["period"])}
          options={[
            { value: "week", label: "week" },
            { value: "two_weeks", label: "two weeks" },
            { value: "month", label: "month" },
          ]}
        />
      </FieldGroup>
      {values.period !== "month" && (
        <Field label="Beginning on">
          {(ids) => (
            <Select
              {...ids}
              value={values.week_starts}
              onChange={(day) => set("week_starts", day as AllowanceForm["week_starts"])}
              options={WEEKDAYS.map(({ value, name }) => ({ value, label: name }))}
            />
          )}
        </Field>
      )}
    </>
  );
}

/** What becomes of what is not spent, in the forecast and at the end of a period. */
function LeftFields({ values, set }: FieldsProps) {
  return (
    <>
      {" "}
      <Field label="In the forecast, what is left is taken">
        {(ids) => (
          <Select
            {...ids}
            value={values.timing}
            onChange={(timing) => set("timing", timing as AllowanceForm["timing"])}
            options={[
              { value: "evenly", label: "a little every day" },
              { value: "at_end", label: "on the last day" },
            ]}
          />
        )}
      </Field>
      <Field label="What is left, or overspent, at the end">
        {(ids) => (
          <Select
            {...ids}
            value={values.carry}
            onChange={(carry) => set("carry", carry as AllowanceForm["carry"])}
            options={[
              { value: "none", label: "stays where it is" },
              { value: "forward", label: "is carried into the next period" },
            ]}
          />
        )}
      </Field>
    </>
  );
}

type CategoriesProps = FieldsProps & {
  categories: EditorProps["categories"];
  own: ReturnType<typeof ownCategory>;
  problem: string | undefined;
  onMade: (category: string) => void;
};

/** The categories that an allowance is for; with none chosen, one of its own name. */
function CategoriesField({ values, set, categories, own, problem, onMade }: CategoriesProps) {
  return (
    <FieldGroup label="Spending in" problem={problem}>
      <ChooseMany
        label="Categories"
        values={values.categories}
        onChange={(next) => set("categories", next)}
        options={categories.map(({ id, name }) => ({ value: id, label: name }))}
      />
      {own && (
        <p className="text-sm text-pencil">
          {own.made.length > 0 ? "None chosen: the category" : "None chosen: it is for the category"} “
          {values.name.trim()}”{own.made.length > 0 && " is made for it"}.
        </p>
      )}
      <NewCategory kind="expense" begins={categories.length === 0 ? "open" : "folded"} onMade={onMade} />
    </FieldGroup>
  );
}
