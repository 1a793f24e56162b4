import { type FormEvent, useState } from "react";
import { useOffered } from "@/shared/api/hooks";
import { firstProblem } from "@/shared/fields";
import { digits, money, readAmount, sentDecimal } from "@/shared/format";
import { Button } from "@/shared/kit/Button";
import { Field } from "@/shared/kit/fields/Field";
import { Select } from "@/shared/kit/fields/Select";
import { AmountField, DayField } from "@/shared/kit/fields/TypedFields";
import { BLANK_SPLIT, readSplit, type SplitForm, SplitParts } from "./SplitParts";
import type { Due, SettleLine } from "./useSettle";

interface Props {
  line: Due;
  problem: string | undefined;
  onSend: (line: SettleLine) => void;
  onClose: () => void;
}

/** Settle with another amount, day or account, or only a part of it. */
export function OtherTerms({ line, problem, onSend, onClose }: Props) {
  const accounts = useOffered([line.account])?.map((row) => row.account) ?? [];
  const [amount, setAmount] = useState(digits(line.amount, line.currency));
  const [date, setDate] = useState(line.settled_on);
  const [account, setAccount] = useState(line.account);
  const [hours, setHours] = useState("");
  const [split, setSplit] = useState<SplitForm>(BLANK_SPLIT);
  const parts = readSplit(split, line.currency);
  const currency = accounts.find(({ id }) => id === account)?.currency ?? line.currency;
  const isForeign = currency !== line.currency;
  // In another currency nothing is as much as what was expected, at the rate of the day.
  const read = isForeign && !amount.trim() ? { amount: null } : readAmount(amount, currency);
  const choose = (id: string) => {
    setAccount(id);
    const next = accounts.find((account) => account.id === id)?.currency;
    if (next !== currency) setAmount(next === line.currency ? digits(line.amount, line.currency) : "");
  };
  const send = (part: boolean) => {
    if (!("amount" in read) || "problems" in parts) return;
    const other = account === line.account ? null : account;
    const paid = hours.trim() ? { hours: sentDecimal(hours) } : { amount: read.amount };
    onSend({
      flow: line.flow,
      nominal: line.nominal,
      do: "settle",
      ...paid,
      date,
      account: other,
      part,
      ...parts.value,
    });
  };
  const onSubmit = (event: FormEvent) => {
    event.preventDefault();
    send(false);
  };
  const isLess = "amount" in read && read.amount !== null && (isForeign || read.amount < line.amount);
  const mayBePart = line.may_be_paid_in_parts && isLess;
  return (
    <form
      aria-label={`Settle ${line.name} otherwise`}
      onSubmit={onSubmit}
      onKeyDown={(event) => {
        if (event.key === "Escape") onClose();
        if (event.key !== "Enter" || !event.shiftKey || !mayBePart) return;
        event.preventDefault();
        send(true);
      }}
      className="mb-3 ml-7 flex flex-wrap items-end gap-3 border-l-2 border-copper pl-3"
    >
      <AmountField
        isFirst
        label={isForeign ? `Amount in ${currency}` : "Amount"}
        value={amount}
        onChange={setAmount}
        problem={"problem" in read ? read.problem : undefined}
      />
      {line.by_the_hour && <HoursField value={hours} onChange={setHours} />}
      <DayField label="Day" value={date} onChange={setDate} className="w-40" />
      <Field label="Account" className="w-48">
        {(ids) => (
          <Select
            {...ids}
            value={account}
            onChange={choose}
            options={accounts
              .filter((one) => line.may_be_foreign || one.currency === line.currency)
              .map(({ id, name }) => ({ value: id, label: name }))}
          />
        )}
      </Field>
      {line.split && (
        <SplitParts
          proposed={line.split}
          values={split}
          currency={line.currency}
          problem={firstProblem(parts)}
          onChange={setSplit}
        />
      )}
      <Button look="main" type="submit" disabled={!("amount" in read) || "problems" in parts || !date}>
        Settle
      </Button>
      {mayBePart && !hours && (
        <Button title="Shift+Enter" onClick={() => send(true)}>
          A part: the rest stays due
        </Button>
      )}
      <Button onClick={onClose}>Cancel</Button>
      {isForeign && !amount.trim() && (
        <p className="w-full text-sm text-pencil">
          {money(line.amount, line.currency)}, at the rate of the day: leave the amount empty, or give what was paid.
        </p>
      )}
      {problem && (
        <p role="alert" className="w-full text-sm text-rust">
          {problem}
        </p>
      )}
    </form>
  );
}

/** Hours in the place of an amount, where pay is by the hour. */
function HoursField({ value, onChange }: { value: string; onChange: (hours: string) => void }) {
  return (
    <Field label="or hours" className="w-24">
      {(ids) => (
        <input
          {...ids}
          inputMode="decimal"
          value={value}
          onChange={(event) => onChange(event.target.value)}
          className="field text-right"
        />
      )}
    </Field>
  );
}
