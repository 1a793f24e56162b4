import type { Account, ChangeRequest } from "@/shared/api/client";
import { useAccounts, useHousehold } from "@/shared/api/hooks";
import { digits, readAmount } from "@/shared/format";
import { ChooseOne } from "@/shared/kit/Choice";
import { Field } from "@/shared/kit/Field";
import { Slip } from "@/shared/slip/Slip";
import { useSlip } from "@/shared/slip/useSlip";
import { useSlipForm } from "@/shared/slip/useSlipForm";

interface AccountForm {
  name: string;
  kind: Account["kind"];
  currency: string;
  date: string;
  balance: string;
  floor: string;
  cushion: string;
  spendable: boolean;
}

const KINDS = [
  { value: "checking", label: "Checking" },
  { value: "savings", label: "Savings" },
  { value: "cash", label: "Cash" },
  { value: "escrow", label: "Escrow" },
] as const;

/** Create or edit an account. */
export function AccountSlip({ id }: { id: string | null }) {
  const household = useHousehold().data;
  const accounts = useAccounts().data?.accounts;
  if (!household || !accounts) return null;
  const account = accounts.find((row) => row.account.id === id)?.account;
  const initial = account ? formOf(account) : emptyForm(household.household.currency, household.today);
  return <AccountEditor id={account ? id : null} initial={initial} title={account?.name ?? "New account"} />;
}

function emptyForm(currency: string, today: string): AccountForm {
  return { name: "", kind: "checking", currency, date: today, balance: "", floor: "", cushion: "", spendable: true };
}

function formOf(account: Account): AccountForm {
  const amount = (minor: number | undefined) => digits(minor ?? 0, account.currency ?? "USD");
  return {
    name: account.name,
    kind: account.kind,
    currency: account.currency ?? "USD",
    date: account.opening.date,
    balance: amount(account.opening.balance),
    floor: amount(account.floor),
    cushion: amount(account.cushion),
    spendable: account.spendable ?? true,
  };
}

type Amounts = "balance" | "floor" | "cushion";

/** The fields to set, and what is wrong with amounts that cannot be read. An empty cushion is the floor. */
function read(form: AccountForm) {
  const problems: Partial<Record<Amounts, string>> = {};
  const amount = (field: Amounts, whenEmpty: number) => {
    if (form[field].trim() === "" && field !== "balance") return whenEmpty;
    const result = readAmount(form[field], form.currency.toUpperCase());
    if ("problem" in result) problems[field] = result.problem;
    return "amount" in result ? result.amount : 0;
  };
  const floor = amount("floor", 0);
  const value = {
    name: form.name.trim(),
    kind: form.kind,
    currency: form.currency.trim().toUpperCase(),
    opening: { date: form.date, balance: amount("balance", 0) },
    floor,
    cushion: amount("cushion", floor),
    spendable: form.spendable,
  };
  return { value, problems };
}

function AccountEditor({ id, initial, title }: { id: string | null; initial: AccountForm; title: string }) {
  const { form, values, newId, isDirty, isTouched } = useSlipForm(initial);
  const { value, problems } = read(values);
  const isReadable = Object.keys(problems).length === 0;
  const changes: ChangeRequest[] = [{ op: id === null ? "add" : "update", kind: "account", id: id ?? newId, value }];
  const isReady = isReadable && (id === null ? values.name.trim() !== "" : isDirty);
  const slip = useSlip(isReady ? changes : null, (field) => isTouched(field === "opening" ? "date" : field));
  const problemOf = (field: Amounts) =>
    problems[field] && (values[field] !== "" || slip.wasTried) ? problems[field] : slip.problem(field);
  const onSave = () => {
    slip.trySaving();
    if (isReadable) slip.save(changes, "Saved");
    else form.setFocus(Object.keys(problems)[0] as Amounts);
  };
  const amountField = (name: Amounts, label: string, hint?: string) => (
    <Field label={label} hint={hint} problem={problemOf(name)}>
      {(ids) => (
        <input {...ids} {...form.register(name)} inputMode="decimal" autoComplete="off" className="field text-right" />
      )}
    </Field>
  );
  return (
    <Slip
      title={title}
      saveName={id === null ? "Add the account" : "Save"}
      isSaving={slip.isSaving}
      problem={slip.otherProblem(["name", "currency", "opening", "opening.date", "balance", "floor", "cushion"])}
      onSave={onSave}
      onDelete={id === null ? undefined : () => slip.save([{ op: "remove", kind: "account", id }], "Deleted")}
    >
      <Field label="Name" problem={slip.problem("name")}>
        {(ids) => <input {...ids} {...form.register("name")} autoComplete="off" className="field" />}
      </Field>
      <ChooseOne
        label="Kind of account"
        value={values.kind}
        options={KINDS}
        onChange={(kind) => form.setValue("kind", kind as Account["kind"], { shouldDirty: true })}
      />
      <div className="grid grid-cols-2 gap-3">
        {amountField("balance", id === null ? "Balance today" : "Opening balance")}
        <Field
          label={id === null ? "As of" : "Opened on"}
          problem={slip.problem("opening.date") ?? slip.problem("opening")}
        >
          {(ids) => <input {...ids} type="date" {...form.register("date")} className="field" />}
        </Field>
        {amountField("floor", "Floor", "Never to go below.")}
        {amountField("cushion", "Cushion", "Comfortable above this.")}
        <Field label="Currency" problem={slip.problem("currency")}>
          {(ids) => <input {...ids} {...form.register("currency")} maxLength={3} className="field uppercase" />}
        </Field>
      </div>
    </Slip>
  );
}
