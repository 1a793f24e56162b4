import { type FormEvent, useState } from "react";
import { refusalOf, type Schemas } from "@/shared/api/client";
import { useHousehold, useOffered } from "@/shared/api/hooks";
import { amountIn, amountOr, problemOf, readFields } from "@/shared/fields";
import { digits, money } from "@/shared/format";
import { Button } from "@/shared/kit/Button";
import { ChooseOne } from "@/shared/kit/fields/Choice";
import { Field, FieldGroup } from "@/shared/kit/fields/Field";
import { Select } from "@/shared/kit/fields/Select";
import { AmountField, DayField } from "@/shared/kit/fields/TypedFields";
import { z } from "@/shared/zod";
import { type Asked, type LentRow, useReceive, useSplit } from "./useLent";

const RESTS = [
  { value: "interest", label: "Interest" },
  { value: "gift", label: "A gift" },
  { value: "owed_back", label: "Owed back" },
] as const;

/** What came, on which day and into which account; the split is proposed, and a rest is asked about. */
export function ReceiveForm({ row, onDone }: { row: LentRow; onDone: () => void }) {
  const today = useHousehold().data?.today ?? "";
  const { currency } = row;
  const accounts = (useOffered() ?? []).filter(
    ({ account, is_debt }) => account.currency === currency && !is_debt && account.kind !== "owed_to_us",
  );
  const likely = row.late?.amount ?? row.next?.amount ?? Math.max(0, row.owed + row.accrued);
  const [form, setForm] = useState({ amount: digits(likely, currency), date: today, interest: "", rest: "" });
  const [chosen, setChosen] = useState<string | null>(null);
  const into = chosen ?? row.into_account ?? accounts[0]?.account.id ?? "";
  const set = (values: Partial<typeof form>) => setForm((before) => ({ ...before, ...values }));
  const read = readFields(z.object({ amount: amountIn(currency), interest: amountOr(null, currency) }), form);
  const asked: Asked | null = "value" in read ? { date: form.date, account: into || null, ...read.value } : null;
  const split = useSplit(row.id, asked && { ...asked, account: null });
  const receive = useReceive(row.id);
  const refused = receive.error ?? split.error;
  const problem = (field: string) => problemOf(read, field) ?? refusalOf(refused, field);
  const rest = asked && !split.error ? (split.data?.rest ?? 0) : 0;
  const onSubmit = (event: FormEvent) => {
    event.preventDefault();
    if (asked)
      receive.mutate({ ...asked, rest: rest ? ((form.rest || null) as Asked["rest"]) : null }, { onSuccess: onDone });
  };
  return (
    <form
      noValidate
      aria-label={`Received from ${row.to}`}
      onSubmit={onSubmit}
      className="mt-2 border-l-2 border-copper pl-3"
    >
      <div className="flex flex-wrap items-start gap-x-4 gap-y-2">
        <AmountField
          isFirst
          label={`Received (${currency})`}
          value={form.amount}
          onChange={(text) => set({ amount: text })}
          problem={problem("amount")}
        />
        <DayField
          label="On"
          value={form.date}
          onChange={(date) => set({ date })}
          max={today}
          problem={problem("date")}
        />
        <IntoField value={into} accounts={accounts} problem={problem("account")} onChange={setChosen} />
        <AmountField
          label="Of it interest"
          value={form.interest}
          onChange={(text) => set({ interest: text })}
          problem={problem("interest")}
        />
      </div>
      {asked && split.data && !split.error && <SplitSaid split={split.data} rest={rest} currency={currency} />}
      {rest > 0 && (
        <RestField
          {...{ rest, currency }}
          value={form.rest}
          problem={problem("rest")}
          onChange={(value) => set({ rest: value })}
        />
      )}
      <Button type="submit" look="main" className="mt-2" disabled={!asked || receive.isPending}>
        Record it
      </Button>
    </form>
  );
}

/** What of a sum received is principal and what is interest. */
function SplitSaid({ split, rest, currency }: { split: Schemas["SplitAnswer"]; rest: number; currency: string }) {
  return (
    <p role="status" className="mt-1 text-sm text-pencil">
      {money(split.principal, currency)} principal, {money(split.interest, currency)} interest
      {rest > 0 && `, and ${money(rest, currency)} more than is owed`}.
    </p>
  );
}

interface RestProps {
  rest: number;
  currency: string;
  value: string;
  problem: string | undefined;
  onChange: (value: string) => void;
}

/** What more than is owed is: nobody guesses. */
function RestField({ rest, currency, value, problem, onChange }: RestProps) {
  return (
    <FieldGroup label={`What the other ${money(rest, currency)} is`} problem={problem}>
      <ChooseOne label="What the rest is" value={value} options={RESTS} onChange={onChange} />
    </FieldGroup>
  );
}

interface IntoProps {
  value: string;
  accounts: { account: Schemas["Account"] }[];
  problem: string | undefined;
  onChange: (account: string) => void;
}

/** The account that it came onto. */
function IntoField({ value, accounts, problem, onChange }: IntoProps) {
  return (
    <Field label="Into" problem={problem} className="w-52">
      {(ids) => (
        <Select
          {...ids}
          value={value}
          options={accounts.map(({ account }) => ({ value: account.id, label: account.name }))}
          onChange={onChange}
        />
      )}
    </Field>
  );
}
