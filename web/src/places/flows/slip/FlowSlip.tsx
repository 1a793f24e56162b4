import type { UseFormReturn } from "react-hook-form";
import { Link } from "react-router";
import { AsideLink } from "@/places/flows/aside/AsideLink";
import { PaymentSlip } from "@/places/flows/PaymentSlip";
import { Planned, type PlannedItem, plannedOf, takingBack } from "@/places/flows/Planned";
import { type Account, type ChangeRequest, type Flow, type Schemas, server } from "@/shared/api/client";
import { useAccounts, useEntryChoices, useFlows, useHousehold } from "@/shared/api/hooks";
import { problemOf } from "@/shared/fields";
import { ChooseOne } from "@/shared/kit/fields/Choice";
import { Field, FieldGroup } from "@/shared/kit/fields/Field";
import { madeBy } from "@/shared/made";
import { Slip } from "@/shared/slip/Slip";
import { useAskedAhead } from "@/shared/slip/useAskedAhead";
import { useSlip } from "@/shared/slip/useSlip";
import { useSlipForm } from "@/shared/slip/useSlipForm";
import { keptSearch, useView } from "@/shared/view";
import { AccountFields } from "./AccountFields";
import { Behind } from "./Behind";
import { currencyOf, emptyForm, type FlowForm, formOf, formOfCandidate, type Kind, timingOf } from "./flowForm";
import { MoreFields } from "./MoreFields";
import { useOccurrences } from "./NextDates";
import { PayFields } from "./PayFields";
import { dateChanges, flowChanges, readForm } from "./readFlow";
import { WhenFields } from "./WhenFields";

const KINDS = [
  { value: "income", label: "Income" },
  { value: "bill", label: "Bill" },
  { value: "transfer", label: "Transfer" },
] as const;

const KIND_TITLES: Record<Kind, string> = { income: "New income", bill: "New bill", transfer: "New transfer" };

interface Props {
  id: string | null;
  start: string;
}

/** Create or edit a flow. */
export function FlowSlip({ id, start }: Props) {
  const household = useHousehold().data;
  const today = household?.today;
  const beginnings = household?.beginnings;
  const accounts = useAccounts().data?.accounts;
  const flows = useFlows().data?.flows;
  const categories = useEntryChoices().data?.categories;
  if (!today || !accounts || !flows || !categories) return null;
  const row = flows.find(({ flow }) => flow.id === id);
  const made = madeBy(id, accounts);
  if (made) return <Made account={made.account} name={made.name} />;
  if (id !== null && !row) return <Gone />;
  if (row?.flow.kind === "loan_payment") return <PaymentSlip row={row} today={today} />;
  if (start.startsWith("seen~"))
    return <FromEntries entries={start.split("~").slice(1)} accounts={accounts} today={today} />;
  const list = accounts.filter(({ is_closed }) => id !== null || !is_closed).map(({ account }) => account);
  const kind: Kind = start === "income" || start === "transfer" ? start : "bill";
  const initial = row ? formOf(row, today) : emptyForm(kind, beginnings?.account ?? "", today);
  const names = new Map([...list, ...categories].map(({ id, name }) => [id, name]));
  return (
    <FlowEditor
      flow={row?.flow ?? null}
      initial={initial}
      accounts={list}
      today={today}
      planned={row ? plannedOf(row, today, (oneAccount) => names.get(oneAccount) ?? oneAccount) : []}
    />
  );
}

interface FromEntriesProps {
  entries: string[];
  accounts: Schemas["AccountRow"][];
  today: string;
}

/** A new flow begun from entries: the app says what it sees, the person corrects it. */
function FromEntries({ entries, accounts, today }: FromEntriesProps) {
  const { data, error } = server.useQuery("post", "/api/candidates/proposal", { body: { entries } }, { retry: false });
  if (error)
    return (
      <Slip title="A flow from entries" saveName="Save" isSaving={false} onSave={() => {}}>
        <p role="alert">{error.message}</p>
      </Slip>
    );
  if (!data) return null;
  const list = accounts.map(({ account }) => account);
  const initial = formOfCandidate(data, today);
  return <FlowEditor flow={null} initial={initial} accounts={list} today={today} seen={data} />;
}

/** What follows from a card's or savings account's terms: where these are. */
function Made({ account, name }: { account: Account; name: string }) {
  const { openSlip, search } = useView();
  return (
    <Slip title={name} saveName="Change the terms" isSaving={false} onSave={() => openSlip("account", account.id)}>
      <p>
        Its days and amounts follow from what is {account.card || account.lent ? "owed on" : "held on"} {account.name}{" "}
        and from its terms. One date alone can be changed where it stands in Ahead or Settle.
      </p>
      {account.card && (
        <p>
          <Link
            to={{ pathname: `/debts/cards/${encodeURIComponent(account.id)}`, search: keptSearch(search) }}
            className="text-copper underline underline-offset-4"
          >
            Its statements, and what it costs
          </Link>
        </p>
      )}
    </Slip>
  );
}

function Gone() {
  return (
    <Slip title="Not here" saveName="Save" isSaving={false} onSave={() => {}}>
      <p>This flow is not in the plan any more. It may have been deleted or undone.</p>
    </Slip>
  );
}

/** A flow that ends today: what it was before stays. */
const ended = (id: string, today: string): ChangeRequest[] => [
  { op: "update", kind: "flow", id, value: { until: today, count: null } },
];

interface EditorProps {
  flow: Flow | null;
  initial: FlowForm;
  accounts: Account[];
  today: string;
  planned?: PlannedItem[];
  seen?: Schemas["CandidateModel"];
}

function FlowEditor({ flow, initial, accounts, today, planned = [], seen }: EditorProps) {
  const id = flow?.id ?? null;
  const { form, values, newId, isDirty, isTouched } = useSlipForm(initial);
  const currency = currencyOf(values, accounts);
  const read = readForm(values, currency);
  const behind = useOccurrences(timingOf(values)).data?.behind;
  const changesOf = (typed: FlowForm, currency: string, read: ReturnType<typeof readForm>): ChangeRequest[] | null => {
    if (!("value" in read)) return null;
    const { value } = read;
    if (id !== null)
      return [
        ...takingBack("flow", id, planned, typed.taken_back),
        ...flowChanges(typed, initial, id, currency, value),
      ];
    const knownSince = behind && typed.still_due ? { known_since: behind.first } : {};
    return [{ op: "add", kind: "flow", id: newId, value: { ...value, ...ownAmounts(typed, currency), ...knownSince } }];
  };
  const changes = changesOf(values, currency, read);
  const slip = useSlip((id !== null ? isDirty : values.name.trim() !== "") ? changes : null, isTouched);
  useAskedAhead(form, (typed) => {
    const currency = currencyOf(typed, accounts);
    return id !== null || typed.name.trim() ? changesOf(typed, currency, readForm(typed, currency)) : null;
  });
  const amountProblem =
    (values.amount !== "" || slip.wasTried ? problemOf(read, "amount") : undefined) ?? slip.problem("amount");
  const moreProblem = (field: string) => problemOf(read, field) ?? slip.problem(field);
  const onSave = () => {
    if (changes) slip.save(changes, "Saved", values.kind);
    else {
      slip.trySaving();
      if (problemOf(read, "amount")) form.setFocus("amount");
    }
  };
  return (
    <Slip
      title={flow?.name || KIND_TITLES[values.kind]}
      saveName={id === null ? "Add to the plan" : "Save"}
      isSaving={slip.isSaving}
      problem={slip.otherProblem(SHOWN)}
      isNew={id === null}
      onSave={onSave}
      onDelete={id === null ? undefined : () => slip.save([{ op: "remove", kind: "flow", id }], "Deleted")}
      instead={
        slip.isInUse && id !== null
          ? { name: "End it today", act: () => slip.save(ended(id, today), "Ended") }
          : undefined
      }
    >
      {seen && <Seen seen={seen} />}
      <ChooseOne
        label="Kind"
        value={values.kind}
        options={KINDS}
        onChange={(kind) => chooseKind(form, kind as Kind, accounts)}
      />
      <Field label="Name" problem={slip.problem("name")}>
        {(ids) => <input {...ids} {...form.register("name")} autoComplete="off" className="field" />}
      </Field>
      <div className="grid grid-cols-2 gap-3">
        {!values.by_the_hour && <Amount form={form} currency={currency} problem={amountProblem} />}
        <AccountFields values={values} form={form} accounts={accounts} problem={slip.problem} />
      </div>
      <WhenFields values={values} form={form} problem={moreProblem} today={today} currency={currency} />
      {id === null && behind && <Behind form={form} values={values} behind={behind} today={today} />}
      {values.kind === "income" && <PayFields values={values} form={form} currency={currency} problem={moreProblem} />}
      <Planned
        items={planned}
        today={today}
        takenBack={values.taken_back}
        onChange={(next) => form.setValue("taken_back", next, { shouldDirty: true })}
      />
      {flow && values.repeats === "rules" && isDirty && (
        <Since form={form} values={values} problem={slip.problem("revisions") ?? slip.problem("from")} />
      )}
      {flow?.kind === "bill" && <AsideLink flow={flow.id} />}
      <MoreFields values={values} form={form} accounts={accounts} problem={moreProblem} />
      <Field label="Notes" problem={slip.problem("notes")}>
        {(ids) => <textarea {...ids} {...form.register("notes")} rows={2} className="field" />}
      </Field>
    </Slip>
  );
}

/** The amounts of a new flow's own dates, as changes of these dates. */
function ownAmounts(values: FlowForm, currency: string) {
  const changes = dateChanges(values, null, "", currency).map(({ nominal, value }) => ({ nominal, ...value }));
  return changes.length > 0 ? { changes } : {};
}

const SHOWN = [
  "name", "amount", "payee", "from_account", "to_account", "rules", "rules.0", "rules.1", "rules.2", "start", "until",
  "count", "dates", "except", "notes", "category", "growth", "seasonal", "splits", "remind_days", "alarm_days", "late_days", "may_skip", "may_pause", "property", "purpose", "revisions", "rate", "hourly", "follows", "always_happens",
]; // biome-ignore format: a list

/** From which day another amount, rhythm or account holds; what came before stays as it was expected. */
function Since({
  form,
  values,
  problem,
}: {
  form: UseFormReturn<FlowForm>;
  values: FlowForm;
  problem: string | undefined;
}) {
  return (
    <FieldGroup label="The change counts" problem={problem}>
      <div className="flex flex-wrap items-center gap-2">
        <ChooseOne
          label="The change counts"
          value={values.holds}
          onChange={(holds) => form.setValue("holds", holds as FlowForm["holds"], { shouldDirty: true })}
          options={[
            { value: "from", label: "From here on" },
            { value: "always", label: "As if it had always been so" },
          ]}
        />
        {values.holds === "from" && (
          <input type="date" aria-label="From" {...form.register("since")} required className="field !w-44" />
        )}
      </div>
    </FieldGroup>
  );
}

/** Another kind uses other accounts: what was chosen moves to the side that the kind has. */
function chooseKind(form: UseFormReturn<FlowForm>, kind: Kind, accounts: Account[]) {
  const { from_account, to_account } = form.getValues();
  const main = from_account || to_account || accounts[0]?.id || "";
  form.setValue("kind", kind, { shouldDirty: true });
  form.setValue("from_account", kind === "income" ? "" : main, { shouldDirty: true });
  const other = accounts.find((account) => account.id !== main)?.id ?? "";
  form.setValue("to_account", kind === "income" ? main : kind === "transfer" ? other : "", { shouldDirty: true });
}

/** How often something was recorded that may be a flow. */
function Seen({ seen }: { seen: NonNullable<EditorProps["seen"]> }) {
  return (
    <p className="border-l-2 border-copper pl-3">
      Seen {seen.times === 1 ? "once" : `${seen.times} times`}, {seen.sentence}. Correct what is not so.
    </p>
  );
}

interface AmountProps {
  form: UseFormReturn<FlowForm>;
  currency: string;
  problem: string | undefined;
}

/** How much it is each time. */
function Amount({ form, currency, problem }: AmountProps) {
  return (
    <Field label={`Amount (${currency})`} problem={problem}>
      {(ids) => (
        <input
          {...ids}
          {...form.register("amount")}
          inputMode="decimal"
          autoComplete="off"
          className="field text-right"
        />
      )}
    </Field>
  );
}
