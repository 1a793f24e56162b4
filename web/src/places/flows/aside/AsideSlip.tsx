import { keepPreviousData } from "@tanstack/react-query";
import { useMemo } from "react";
import { type UseFormReturn, useForm, useWatch } from "react-hook-form";
import { type ChangeRequest, Refused, type Schemas, server } from "@/shared/api/client";
import { useFlows, useHousehold, useOffered } from "@/shared/api/hooks";
import { dayText, money, readAmount } from "@/shared/format";
import { ChooseOne } from "@/shared/kit/fields/Choice";
import { Field } from "@/shared/kit/fields/Field";
import { Select } from "@/shared/kit/fields/Select";
import { Slip } from "@/shared/slip/Slip";
import { useSlip } from "@/shared/slip/useSlip";

/** Set money aside for a bill or for something to come. `start` is the bill that it begins with. */
export function AsideSlip({ start }: { start: string }) {
  const accounts = useOffered();
  const flows = useFlows().data;
  const beginnings = useHousehold().data?.beginnings;
  if (!accounts || !flows || !beginnings) return null;
  const list = accounts.map(({ account }) => account);
  return <Editor start={start} accounts={list} flows={flows} beginnings={beginnings} />;
}

interface EditorProps {
  start: string;
  accounts: Schemas["Account"][];
  flows: Schemas["FlowsAnswer"];
  beginnings: Schemas["Beginnings"];
}

function initialForm({ start, beginnings, flows }: EditorProps) {
  const bill = flows.flows.find(({ flow }) => flow.id === start);
  return {
    flow: start,
    name: "",
    amount: "",
    by: beginnings.aside_by,
    from_account: bill?.from_account_now ?? beginnings.account ?? "",
    to_account: beginnings.aside_to ?? "",
    with_income: flows.flows.find(({ flow }) => flow.kind === "income")?.flow.id ?? "",
    every: "month",
    month_day: String(beginnings.month_day),
  };
}

function Editor(props: EditorProps) {
  const { accounts, flows } = props;
  const initial = useMemo(() => initialForm(props), [props]);
  const form = useForm({ defaultValues: initial });
  const values = useWatch({ control: form.control, defaultValue: initial }) as typeof initial;
  const id = useMemo(() => crypto.randomUUID(), []);
  const currency = accounts.find((account) => account.id === values.from_account)?.currency ?? "USD";
  const amount = values.flow ? { amount: 0 } : readAmount(values.amount, currency);
  const isReady = "amount" in amount && (values.flow !== "" || (values.name.trim() !== "" && values.by !== ""));
  const wish = wishOf(id, values, "amount" in amount ? amount.amount : 0);
  const proposal = server.useQuery(
    "post",
    "/api/set-aside/proposal",
    { body: wish },
    { enabled: isReady, retry: false, placeholderData: keepPreviousData },
  );
  const proposed = isReady && !proposal.isError ? proposal.data : undefined;
  const changes = (proposed?.changes ?? null) as ChangeRequest[] | null;
  const slip = useSlip(changes, () => true);
  const refusal = isReady && proposal.error instanceof Refused ? proposal.error.details[0] : undefined;
  const problem = (field: string) => (refusal?.loc.at(-1) === field ? refusal.msg : undefined);
  const options = (rows: { id: string; name: string }[]) => rows.map((row) => ({ value: row.id, label: row.name }));
  const ofKind = (kind: string) => options(flows.flows.map(({ flow }) => flow).filter((flow) => flow.kind === kind));
  const select = (
    name: "flow" | "from_account" | "to_account" | "with_income",
    label: string,
    list: ReturnType<typeof options>,
  ) => (
    <Field label={label} problem={problem(name)}>
      {(ids) => <Select {...ids} value={values[name]} options={list} onChange={(next) => form.setValue(name, next)} />}
    </Field>
  );
  const onSave = () => {
    slip.trySaving();
    if (changes) slip.save(changes, "Set aside");
  };
  return (
    <Slip
      title="Set money aside"
      saveName="Add to the plan"
      isSaving={slip.isSaving}
      problem={slip.wasTried && !changes ? "Say what it is for, how much, and by when." : slip.otherProblem([])}
      onSave={onSave}
    >
      {select("flow", "For", [{ value: "", label: "Something to come" }, ...ofKind("bill")])}
      {values.flow === "" && <SavedFor {...{ form, currency, problem }} />}
      <div className="grid grid-cols-2 gap-3">
        {select("from_account", "From", options(accounts))}
        {select("to_account", "Kept on", options(accounts))}
      </div>
      <ChooseOne
        label="How often"
        value={values.every}
        onChange={(every) => form.setValue("every", every)}
        options={[
          { value: "month", label: "every month" },
          { value: "income", label: "with each paycheck" },
        ]}
      />
      {values.every === "month" ? (
        <Field label="On day of the month" className="w-40" problem={problem("month_day")}>
          {(ids) => <input {...ids} {...form.register("month_day")} inputMode="numeric" className="field text-right" />}
        </Field>
      ) : (
        select("with_income", "Paycheck", ofKind("income"))
      )}
      {values.flow !== "" && problem("by") && (
        <p role="alert" className="text-rust">
          {problem("by")}
        </p>
      )}
      {proposed && <Proposed proposed={proposed} today={flows.today} />}
    </Slip>
  );
}

/** The proposal in a sentence. */
function Proposed({ proposed, today }: { proposed: Schemas["ProposalAnswer"]; today: string }) {
  const times = proposed.times === 1 ? "once" : `${proposed.times} times`;
  return (
    <p className="border-l-2 border-copper pl-3" aria-live="polite">
      <strong>{money(proposed.level, proposed.currency)}</strong>, {times}
      {proposed.last !== proposed.level && `, the last ${money(proposed.last, proposed.currency)}`}:{" "}
      {money(proposed.amount, proposed.currency)} is there for {proposed.name} on {dayText(proposed.by, today)}.
    </p>
  );
}

interface GoalProps {
  form: UseFormReturn<ReturnType<typeof initialForm>>;
  currency: string;
  problem: (field: string) => string | undefined;
}

/** What is saved for, where that is no bill of the plan. */
function SavedFor({ form, currency, problem }: GoalProps) {
  return (
    <>
      <Field label="What for" problem={problem("name")}>
        {(ids) => <input {...ids} {...form.register("name")} autoComplete="off" className="field" />}
      </Field>
      <div className="grid grid-cols-2 gap-3">
        <Field label={`How much (${currency})`} problem={problem("amount")}>
          {(ids) => <input {...ids} {...form.register("amount")} inputMode="decimal" className="field text-right" />}
        </Field>
        <Field label="There by" problem={problem("by")}>
          {(ids) => <input {...ids} type="date" {...form.register("by")} className="field" />}
        </Field>
      </div>
    </>
  );
}

/** What is asked of the app: how to have so much on a day. */
function wishOf(id: string, values: ReturnType<typeof initialForm>, amount: number) {
  return {
    id,
    from_account: values.from_account,
    to_account: values.to_account,
    flow: values.flow || null,
    name: values.name.trim(),
    amount,
    by: values.flow ? null : values.by || null,
    month_day: Number(values.month_day) || 1,
    with_income: values.every === "income" ? values.with_income : null,
  };
}
