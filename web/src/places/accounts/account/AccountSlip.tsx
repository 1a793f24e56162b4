import { useMemo, useState } from "react";
import type { Account, ChangeRequest } from "@/shared/api/client";
import { useAccounts, useHousehold, useSave } from "@/shared/api/hooks";
import { problemOf } from "@/shared/fields";
import { readAmount } from "@/shared/format";
import { Button } from "@/shared/kit/Button";
import { Field, FieldGroup } from "@/shared/kit/fields/Field";
import { Select } from "@/shared/kit/fields/Select";
import { useToast } from "@/shared/kit/Toast";
import { Slip } from "@/shared/slip/Slip";
import { useSlip } from "@/shared/slip/useSlip";
import { type SlipForm, useSlipForm } from "@/shared/slip/useSlipForm";
import { useView } from "@/shared/view";
import { LentFields } from "../lent/LentFields";
import { taken } from "../lent/taken";
import { type AccountForm, emptyForm, formOf, type Household, type Offer, offerOf } from "./accountForm";
import { CardFields } from "./CardFields";
import { SavingsFields, SweepFields } from "./EarningFields";
import { readAccount, type Said } from "./readAccount";

export const ACCOUNT_KINDS = [
  { value: "checking", label: "Checking" },
  { value: "savings", label: "Savings" },
  { value: "cash", label: "Cash" },
  { value: "credit_card", label: "Credit card" },
  { value: "credit_line", label: "Credit line" },
  { value: "escrow", label: "Escrow" },
  { value: "owed_to_us", label: "Owed to us" },
  { value: "asset", label: "House, boat and the like" },
] as const;

const SHOWN = [
  "name",
  "currency",
  "opening",
  "opening.date",
  "balance",
  "floor",
  "cushion",
  "card",
  "savings",
  "sweep",
  "lent",
  "legs",
  "closed",
];

/** Create or edit an account; `start` is the kind that a new one begins as. */
export function AccountSlip({ id, start }: { id: string | null; start: string }) {
  const household = useHousehold().data;
  const accounts = useAccounts().data?.accounts;
  if (!household || !accounts) return null;
  const account = accounts.find((row) => row.account.id === id)?.account ?? null;
  const kind = ACCOUNT_KINDS.find((option) => option.value === start)?.value ?? "checking";
  const initial = account ? formOf(account, household) : emptyForm(kind, household);
  const others = accounts
    .filter((row) => account !== null || !row.is_closed)
    .map((row) => row.account)
    .filter((option) => option.id !== id && !offerOf(household, option.kind).is_owed && !option.loan);
  return (
    <AccountEditor
      account={account}
      household={household}
      initial={initial}
      others={others}
      isFirst={account === null && !household.beginnings.may_pay}
      replaces={accounts.length === 0 ? household.household.currency : null}
    />
  );
}

/** What is owned is valued anew now and then; what it was worth before stays in its register. */
function Revalue({ account, today }: { account: Account; today: string }) {
  const [text, setText] = useState("");
  const [day, setDay] = useState(today);
  const id = useMemo(() => crypto.randomUUID(), []);
  const save = useSave();
  const toast = useToast();
  const { closeSlip } = useView();
  const read = readAmount(text, account.currency ?? "USD");
  const send = () =>
    "amount" in read &&
    save.mutate(
      [{ op: "worth", kind: "account", id: account.id, value: { entry: id, amount: read.amount, date: day } }],
      {
        onSuccess: () => {
          toast("Valued anew. Undo takes it back.");
          closeSlip();
        },
      },
    );
  const problem = save.error?.message ?? (text && "problem" in read ? read.problem : undefined);
  return (
    <FieldGroup label="What it is worth now" problem={problem}>
      <div className="flex flex-wrap items-center gap-2">
        <input
          aria-label="What it is worth"
          inputMode="decimal"
          value={text}
          onChange={(event) => setText(event.target.value)}
          className="field !w-36 text-right"
        />
        <span className="text-pencil">on</span>
        <input
          type="date"
          aria-label="Valued on"
          value={day}
          onChange={(event) => setDay(event.target.value)}
          className="field !w-40"
        />
        <Button className="!min-h-9" disabled={save.isPending || !("amount" in read)} onClick={send}>
          Write it down
        </Button>
      </div>
    </FieldGroup>
  );
}

interface Props {
  account: Account | null;
  household: Household;
  initial: AccountForm;
  others: Account[];
  /** There is none yet that money could be paid from. */
  isFirst: boolean;
  /** The household's currency while it is empty: that of the first account takes its place. */
  replaces: string | null;
}

const BALANCES: Partial<Record<Account["kind"], string>> = {
  credit_card: "Owed",
  credit_line: "Owed",
  asset: "Worth",
  owed_to_us: "Owed to us",
};

function AccountEditor({ account, household, initial, others, isFirst, replaces }: Props) {
  const { form, values, newId, isDirty, isTouched, set } = useSlipForm(initial);
  const offer = offerOf(household, values.kind);
  const read = readAccount(values, account, offer);
  const entryId = useMemo(() => crypto.randomUUID(), []);
  const changesOf = (value: Said): ChangeRequest[] => [
    ...(account
      ? [{ op: "update" as const, kind: "account" as const, id: account.id, value }]
      : taken(newId, entryId, value, values.lent.from)),
    ...(replaces !== null && value.currency !== replaces
      ? [{ op: "update" as const, kind: "household" as const, id: "household", value: { currency: value.currency } }]
      : []),
  ];
  const changes = "value" in read ? changesOf(read.value) : null;
  const isReady = account ? isDirty : values.name.trim() !== "";
  const slip = useSlip(isReady ? changes : null, (field) => isTouched(field === "opening" ? "date" : field));
  const problem = (field: string) =>
    (slip.wasTried || isTypedIn(values, field) ? problemOf(read, field) : undefined) ?? slip.problem(field);
  const onSave = () => {
    slip.trySaving();
    if (changes) slip.save(changes, "Saved", values.kind);
  };
  return (
    <Slip
      title={account?.name ?? "New account"}
      saveName={account ? "Save" : "Add the account"}
      isSaving={slip.isSaving}
      problem={slip.otherProblem(SHOWN)}
      isNew={!account}
      onSave={onSave}
      onDelete={account ? () => slip.save([{ op: "remove", kind: "account", id: account.id }], "Deleted") : undefined}
    >
      {isFirst && (
        <p className="text-pencil">
          Money comes from an account and goes to one: begin with the one that you pay from, and what is on it today.
        </p>
      )}
      <Field label="Name" problem={slip.problem("name")}>
        {(ids) => <input {...ids} {...form.register("name")} autoComplete="off" className="field" />}
      </Field>
      <Field label="Kind of account" problem={slip.problem("kind")}>
        {(ids) => (
          <Select
            {...ids}
            value={values.kind}
            options={ACCOUNT_KINDS}
            onChange={(kind) => {
              set("kind", kind as never);
              // What a line asks for is its minimum, unless something else is chosen.
              if (!account) set("card", { ...values.card, pays: offerOf(household, kind as Account["kind"]).pays });
            }}
          />
        )}
      </Field>
      <BalanceFields {...{ account, form, values, problem }} refusalOf={slip.problem} />
      {account && (
        <Field
          label="Closed from"
          hint="Empty while it is open. From that day on it is kept with its past and offered nowhere."
          problem={slip.problem("closed")}
        >
          {(ids) => <input {...ids} type="date" {...form.register("closed")} className="field !w-44" />}
        </Field>
      )}
      {account?.kind === "asset" && <Revalue account={account} today={household.today} />}
      <KindFields {...{ account, offer, others, form, values, problem, set }} />
    </Slip>
  );
}

/** Whether a field has text in it: an empty one is complained about only once saving was tried. */
function isTypedIn(values: AccountForm, field: string): boolean {
  const [part = "", name = ""] = field.split(".");
  const own = values[part as keyof AccountForm];
  if (typeof own !== "object") return own !== undefined && own !== "";
  const names: Record<string, string> = { due: "due_number", minimum: "percent", apy: "percent", rate: "percent" };
  const inner = (own as unknown as Record<string, unknown>)[names[name] ?? name];
  return Array.isArray(inner) || (typeof inner === "string" && inner !== "");
}

type KindProps = Pick<Props, "account" | "others"> &
  SlipForm<AccountForm> & { offer: Offer; problem: (field: string) => string | undefined };

/** What an account of a kind has beside its balance. */
function KindFields({ account, offer, others, form, values, problem, set }: KindProps) {
  return (
    <>
      {offer.has_card && (
        <CardFields
          form={form}
          values={values}
          accounts={others}
          problem={problem}
          set={(part) => set("card", { ...values.card, ...part })}
        />
      )}
      {offer.may_earn && (
        <SavingsFields
          form={form}
          values={values}
          problem={problem}
          set={(part) => set("savings", { ...values.savings, ...part })}
        />
      )}
      {offer.is_lent && (
        <LentFields
          form={form}
          values={values}
          accounts={others}
          isNew={account === null}
          problem={problem}
          set={(part) => set("lent", { ...values.lent, ...part })}
        />
      )}
      {offer.may_sweep && (
        <SweepFields
          form={form}
          values={values}
          problem={problem}
          accounts={others}
          set={(part) => set("sweep", { ...values.sweep, ...part })}
        />
      )}
    </>
  );
}

type BalanceProps = Omit<KindProps, "others" | "set" | "offer"> & { refusalOf: (field: string) => string | undefined };

/** What is on an account, since when, and what it should not fall below. */
function BalanceFields({ account, form, values, problem, refusalOf }: BalanceProps) {
  const amountField = (name: "balance" | "floor" | "cushion", label: string, hint?: string) => (
    <Field label={label} hint={hint} problem={problem(name)}>
      {(ids) => (
        <input {...ids} {...form.register(name)} inputMode="decimal" autoComplete="off" className="field text-right" />
      )}
    </Field>
  );
  const what = BALANCES[values.kind];
  return (
    <div className="grid grid-cols-2 gap-3">
      {account
        ? amountField("balance", what ? `${what} at first` : "Opening balance")
        : amountField("balance", what ? `${what} today` : "Balance today")}
      <Field label={account ? "Opened on" : "As of"} problem={refusalOf("opening.date") ?? refusalOf("opening")}>
        {(ids) => <input {...ids} type="date" {...form.register("date")} className="field" />}
      </Field>
      {!what && amountField("floor", "Floor", "Never to go below.")}
      {!what && amountField("cushion", "Cushion", "Comfortable above this.")}
      <Field label="Currency" problem={refusalOf("currency")}>
        {(ids) => <input {...ids} {...form.register("currency")} maxLength={3} className="field uppercase" />}
      </Field>
    </div>
  );
}
