import type { ChangeRequest, Schemas } from "@/shared/api/client";
import { useAccounts, useEntryChoices, useHousehold } from "@/shared/api/hooks";
import { digits, rateText, readAmount, readRate } from "@/shared/format";
import { ChooseOne } from "@/shared/kit/fields/Choice";
import { Field, FieldGroup } from "@/shared/kit/fields/Field";
import { Slip } from "@/shared/slip/Slip";
import { useSlip } from "@/shared/slip/useSlip";
import { type SlipForm, useSlipForm } from "@/shared/slip/useSlipForm";
import { GoalNames } from "./GoalNames";
import { type GoalKind, KINDS, useGoalChoices, useGoals } from "./useGoals";

type Document = Schemas["GoalAnswer"]["goal"];

export interface GoalForm {
  name: string;
  kind: GoalKind;
  by: "amount" | "share";
  number: string;
  per: "month" | "year" | "days";
  from: string;
  until: string;
  categories: string[];
  accounts: string[];
}

/** Create or edit a goal. */
export function GoalSlip({ id }: { id: string | null }) {
  const goals = useGoals().data;
  const choices = useGoalChoices().data;
  const household = useHousehold().data;
  const categories = useEntryChoices().data?.categories;
  const accounts = useAccounts().data?.accounts;
  if (!goals || !choices || !household || !categories || !accounts) return null;
  const currency = household.household.currency;
  const existing = goals.find((goal) => goal.id === id)?.goal ?? null;
  return (
    <Editor
      existing={existing}
      initial={formOf(existing, currency)}
      currency={currency}
      choices={choices}
      names={
        new Map([
          ...categories.map((category) => [category.id, category.name] as const),
          ...accounts.map(({ account }) => [account.id, account.name] as const),
        ])
      }
    />
  );
}

function formOf(goal: Document | null, currency: string): GoalForm {
  const number = rateText(goal?.share) || (goal?.amount != null ? digits(goal.amount, currency) : "");
  return {
    name: goal?.name ?? "",
    kind: goal?.kind ?? "save",
    by: goal?.share != null ? "share" : "amount",
    number: String(number),
    per: goal ? (goal.per ?? "days") : "month",
    from: goal?.from ?? "",
    until: goal?.until ?? "",
    categories: [...(goal?.categories ?? [])],
    accounts: [...(goal?.accounts ?? [])],
  };
}

/** The target as the document has it, or what is wrong with what was typed. */
function readTarget({ by, number }: GoalForm, currency: string) {
  if (by === "amount") {
    const read = readAmount(number, currency);
    return "problem" in read ? read : { value: { amount: read.amount, share: null } };
  }
  const read = readRate(number);
  return "problem" in read ? read : { value: { amount: null, share: read.rate } };
}

interface Props {
  existing: Document | null;
  initial: GoalForm;
  currency: string;
  choices: Schemas["GoalChoice"][];
  names: Map<string, string>;
}

function Editor({ existing, initial, currency, choices, names }: Props) {
  const { form, values, newId, isDirty, isTouched, set } = useSlipForm(initial);
  const target = readTarget(values, currency);
  const change = "value" in target ? changeOf(values, existing, newId, target.value) : null;
  const isReady = existing ? isDirty : values.name.trim() !== "" && values.number !== "";
  const slip = useSlip(change && isReady ? [change] : null, isTouched);
  const onSave = () => {
    slip.trySaving();
    if (change) slip.save([change], "Saved");
    else form.setFocus("number");
  };
  const unread = "problem" in target && (values.number || slip.wasTried) ? target.problem : undefined;
  return (
    <Slip
      title={existing?.name ?? "New goal"}
      saveName={existing ? "Save" : "Add the goal"}
      isSaving={slip.isSaving}
      problem={slip.otherProblem(["name", "amount", "share", "from", "until", "categories", "accounts"])}
      isNew={!existing}
      onSave={onSave}
      onDelete={existing ? () => slip.save([{ op: "remove", kind: "goal", id: existing.id }], "Deleted") : undefined}
    >
      <Field label="Name" problem={slip.problem("name")}>
        {(ids) => <input {...ids} {...form.register("name")} autoComplete="off" className="field" />}
      </Field>
      <FieldGroup label="We want to">
        <ChooseOne
          label="What to do"
          value={values.kind}
          onChange={(kind) => {
            set("kind", kind as GoalKind);
            set("categories", []);
            set("accounts", []);
          }}
          options={KINDS}
        />
      </FieldGroup>
      <div className="grid grid-cols-2 items-end gap-3">
        <ChooseOne
          label="How much"
          value={values.by}
          onChange={(by) => set("by", by as GoalForm["by"])}
          options={[
            { value: "amount", label: "a sum" },
            { value: "share", label: "a share of income" },
          ]}
        />
        <Field
          label={values.by === "amount" ? `Sum (${currency})` : "Percent of income"}
          problem={unread ?? slip.problem("amount") ?? slip.problem("share")}
        >
          {(ids) => <input {...ids} {...form.register("number")} inputMode="decimal" className="field text-right" />}
        </Field>
      </div>
      <PeriodFields {...{ form, values, set }} problem={slip.problem} />
      <GoalNames
        values={values}
        choice={choices.find(({ kind }) => kind === values.kind)}
        names={names}
        problem={slip.problem("categories") ?? slip.problem("accounts")}
        set={set}
      />
    </Slip>
  );
}

type PeriodProps = SlipForm<GoalForm> & {
  problem: (field: string) => string | undefined;
};

/** Each month, each year, or from a day to a day. */
function PeriodFields({ form, values, set, problem }: PeriodProps) {
  return (
    <>
      {" "}
      <FieldGroup label="Each">
        <ChooseOne
          label="Period"
          value={values.per}
          onChange={(per) => set("per", per as GoalForm["per"])}
          options={[
            { value: "month", label: "month" },
            { value: "year", label: "year" },
            { value: "days", label: "only between two days" },
          ]}
        />
      </FieldGroup>
      <div className="grid grid-cols-2 gap-3">
        <Field label="From" hint={values.per === "days" ? undefined : "Empty: now already."} problem={problem("from")}>
          {(ids) => <input {...ids} type="date" {...form.register("from")} className="field" />}
        </Field>
        <Field
          label="Until"
          hint={values.per === "days" ? undefined : "Empty: without end."}
          problem={problem("until")}
        >
          {(ids) => <input {...ids} type="date" {...form.register("until")} className="field" />}
        </Field>
      </div>
    </>
  );
}

/** The goal as it is to be. */
function changeOf(values: GoalForm, existing: Props["existing"], newId: string, target: object): ChangeRequest {
  return {
    op: existing ? "update" : "add",
    kind: "goal",
    id: existing?.id ?? newId,
    value: {
      name: values.name,
      kind: values.kind,
      per: values.per === "days" ? null : values.per,
      from: values.from || null,
      until: values.until || null,
      categories: values.categories,
      accounts: values.accounts,
      ...target,
    },
  };
}
