import { type ChangeRequest, type Schemas, server } from "@/shared/api/client";
import { useAccounts, useEntryChoices, useHousehold } from "@/shared/api/hooks";
import { problemOf } from "@/shared/fields";
import { ChooseOne } from "@/shared/kit/fields/Choice";
import { Field } from "@/shared/kit/fields/Field";
import { useWaters } from "@/shared/look/waters";
import { Slip } from "@/shared/slip/Slip";
import { useSlip } from "@/shared/slip/useSlip";
import { useSlipForm } from "@/shared/slip/useSlipForm";
import { type EntryForm, entryChange, formOf, readForm, type Way } from "./entryForm";
import { NumberField } from "./NumberField";
import { PartFields } from "./PartFields";
import { PayeeInput } from "./PayeeInput";
import { PaymentOrExtra, usePaymentMeant } from "./PaymentOrExtra";
import { ReceiptField } from "./ReceiptField";
import { WhereFields, type WhereProps } from "./WhereFields";

const WAYS = [
  { value: "spent", label: "Spent" },
  { value: "received", label: "Received" },
  { value: "moved", label: "Moved" },
] as const;

interface Props {
  id: string | null;
  start: string;
}

/** Record money that moved, or correct what was recorded. `start` is the account that it begins on. */
export function EntrySlip({ id, start }: Props) {
  const accounts = useAccounts()
    .data?.accounts.filter(({ is_closed }) => id !== null || !is_closed)
    .map(({ account }) => account);
  const choices = useEntryChoices().data;
  const today = useHousehold().data?.today;
  const entry = server.useQuery(
    "get",
    "/api/entries/{id}",
    { params: { path: { id: id as string } } },
    { enabled: id !== null, retry: false },
  );
  if (!accounts || !choices || !today || (id !== null && entry.isPending)) return null;
  if (entry.isError) return <Notice text={entry.error.message} />;
  const currencyOf = (account: string) => accounts.find((oneAccount) => oneAccount.id === account)?.currency ?? "USD";
  // Another one begins on the account, day and way of the one before.
  const [account = "", day = "", way = ""] = start.split("~");
  const first = account || choices.last_account || accounts[0]?.id || "";
  const initial = entry.data
    ? formOf(entry.data, currencyOf)
    : emptyForm(first, day || today, likelyCategory(choices, first)?.id ?? "", way === "received" ? way : "spent");
  if (!initial)
    return <Notice text="This entry has more parts than this slip can show. Its flow or the plan file has all." />;
  return <Editor id={id} initial={initial} accounts={accounts} choices={choices} currencyOf={currencyOf} />;
}

function Notice({ text }: { text: string }) {
  return (
    <Slip title="Entry" saveName="Save" isSaving={false} onSave={() => {}}>
      <p>{text}</p>
    </Slip>
  );
}

/** What was last spent from an account, or from any, was for. */
function likelyCategory({ payees, categories }: Schemas["EntryChoices"], account: string) {
  const offered = new Map(
    categories.filter(({ kind, retired }) => kind !== "income" && !retired).map((one) => [one.id, one]),
  );
  const spent = payees.filter(({ category }) => offered.has(category ?? ""));
  return offered.get((spent.find((usual) => usual.account === account) ?? spent[0])?.category ?? "");
}

function emptyForm(account: string, today: string, category: string, way: Way): EntryForm {
  return {
    way,
    amount: "",
    payee: "",
    date: today,
    account,
    to_account: "",
    arrives: "",
    pays: "",
    parts: [{ category: way === "spent" ? category : "", amount: "" }],
    notes: "",
    tags: "",
    number: "",
    receipt: null,
  };
}

interface EditorProps {
  id: string | null;
  initial: EntryForm;
  accounts: Schemas["Account"][];
  choices: Schemas["EntryChoices"];
  currencyOf: (account: string) => string;
}

function Editor({ id, initial, accounts, choices, currencyOf }: EditorProps) {
  const { form, values, newId, isDirty, isTouched, set } = useSlipForm(initial);
  const currency = currencyOf(values.account);
  const read = readForm(values, currencyOf);
  const changes: ChangeRequest[] | null = "value" in read ? [entryChange(values, id ?? newId, read.value)] : null;
  const slip = useSlip(id === null || isDirty ? changes : null, isTouched);
  const rest = useRest(id ?? newId);
  const likely = likelyCategory(choices, values.account);
  const { payment: meant, ask } = usePaymentMeant(values, read, accounts);
  const isAsking = meant !== null && values.pays === "";
  const problem = (field: string) => (slip.wasTried ? problemOf(read, field) : undefined) ?? slip.problem(field);
  const onSave = async () => {
    slip.trySaving();
    if (isAsking || (values.pays === "" && (await ask()))) return;
    if (changes) slip.save(changes, "Saved", [values.account, values.date, values.way].join("~"));
    else if (problemOf(read, "amount")) form.setFocus("amount");
  };
  return (
    <Slip
      title={id === null ? "New entry" : values.payee || "Entry"}
      saveName={id === null ? "Record it" : "Save"}
      isSaving={slip.isSaving}
      isNew={id === null}
      problem={slip.otherProblem(SHOWN)}
      onSave={onSave}
      onDelete={id === null ? undefined : () => slip.save([{ op: "remove", kind: "entry", id }], "Deleted")}
    >
      <div className="grid grid-cols-2 gap-3">
        <Field label={`Amount (${currency})`} problem={problem("amount")}>
          {(ids) => (
            <input
              {...ids}
              {...form.register("amount")}
              inputMode="decimal"
              autoComplete="off"
              className="field text-right text-xl"
            />
          )}
        </Field>
        <Field label="Payee" problem={problem("payee")}>
          {(ids) => (
            <PayeeInput ids={ids} form={form} payees={choices.payees} preset={id === null ? likely?.id : undefined} />
          )}
        </Field>
      </div>
      <WayChoice {...{ values, choices, set }} />
      {values.way !== "moved" && (
        <PartFields
          parts={values.parts}
          kind={values.way === "received" ? "income" : "expense"}
          likely={values.way === "spent" ? likely : undefined}
          currency={currency}
          rest={rest}
          problem={problem}
          onChange={(parts) => set("parts", parts)}
        />
      )}
      <WhereFields entry={id ?? newId} {...{ accounts, currencyOf, form, values, problem, set }} />
      {meant && (
        <PaymentOrExtra
          payment={meant}
          value={values.pays}
          problem={isAsking && slip.wasTried ? "Say which it is." : undefined}
          onChange={(pays) => set("pays", pays)}
        />
      )}
      <TagsAndNumber {...{ form, values, problem, set, choices }} isNew={id === null} />
      <ReceiptField
        receipt={values.receipt}
        problem={problem("receipt")}
        onChange={(receipt) => set("receipt", receipt)}
      />
      <Field label="Notes" problem={problem("notes")}>
        {(ids) => <textarea {...ids} {...form.register("notes")} rows={2} className="field" />}
      </Field>
    </Slip>
  );
}

const SHOWN = [
  "amount", "date", "payee", "notes", "tags", "number", "receipt", "parts", "account", "to_account", "arrives", "legs",
]; // biome-ignore format: a list

/** What the last part of the entry being written takes, as the app has worked it out. */
function useRest(id: string): number | undefined {
  const last = useWaters()
    .drafted?.entries.find((entry) => entry.id === id)
    ?.legs.filter((leg) => leg.category)
    .at(-1);
  return last && Math.abs(last.amount);
}

type TagsProps = Pick<WhereProps, "form" | "values" | "problem" | "set"> & {
  choices: Schemas["EntryChoices"];
  isNew: boolean;
};

/** Tags for the tax return, and the number of a check. */
function TagsAndNumber({ form, values, problem, set, choices, isNew }: TagsProps) {
  return (
    <div className="grid grid-cols-[1fr_9rem] gap-3">
      <Field label="Tags" hint="For the tax return, with commas." problem={problem("tags")}>
        {(ids) => (
          <>
            <input {...ids} {...form.register("tags")} list="known-tags" autoComplete="off" className="field" />
            <datalist id="known-tags">
              {choices.tags.map((tag) => (
                <option key={tag} value={tag} />
              ))}
            </datalist>
          </>
        )}
      </Field>
      <NumberField
        form={form}
        next={isNew && values.number === "" ? choices.next_numbers[values.account] : undefined}
        problem={problem("number")}
        onTake={(number) => set("number", number)}
      />
    </div>
  );
}

/** Whether money was spent, received or moved. */
function WayChoice({ values, choices, set }: Pick<TagsProps, "values" | "choices" | "set">) {
  return (
    <ChooseOne
      label="What happened"
      value={values.way}
      options={WAYS}
      onChange={(way) => {
        set("way", way as Way);
        // What was spent is for other things than what came in.
        const kind = way === "received" ? "income" : "expense";
        const fits = (id: string) =>
          choices.categories.some((oneCategory) => oneCategory.id === id && (oneCategory.kind ?? "expense") === kind);
        const parts = values.parts.length > 0 ? values.parts : [{ category: "", amount: "" }];
        if (way !== "moved")
          set(
            "parts",
            parts.map((part) => ({ ...part, category: fits(part.category) ? part.category : "" })),
          );
      }}
    />
  );
}
