import { useOffered } from "@/shared/api/hooks";
import { dayText, money } from "@/shared/format";
import { Select } from "@/shared/kit/fields/Select";
import type { Line } from "./useBankFile";

interface Props {
  line: Line;
  account: string;
  currency: string;
  value: string;
  onChange: (what: string) => void;
}

/** What a line of the bank is: as it was found, something new, a move between accounts, or nothing for now. */
export function WhatItIs({ line, account, currency, value, onChange }: Props) {
  const others = (useOffered() ?? []).filter(
    (row) => row.account.id !== account && row.account.currency === currency && !row.account.loan,
  );
  const options = [
    { value: "same", label: foundText(line, currency) },
    ...(line.is === "new" ? [] : [{ value: "new", label: "something new" }]),
    ...others
      .filter((row) => !(line.is === "transfer" && row.account.id === line.account))
      .map((row) => ({
        value: `move:${row.account.id}`,
        label: `moved ${line.amount < 0 ? "to" : "from"} ${row.account.name}`,
      })),
    ...(line.offered ? [{ value: "wait", label: "not decided: it waits in Settle" }] : []),
    { value: "leave", label: "left out" },
  ];
  return (
    <Select
      label={`What it is: ${line.payee || "a line without a name"}, ${money(line.amount, currency)}`}
      value={value}
      options={options}
      onChange={onChange}
      className="field"
    />
  );
}

/** What a line was found to be, in words. */
export function foundText(line: Line, currency: string): string {
  const shown = line.shown;
  const sum = shown?.amount != null && shown.amount !== line.amount ? `, ${money(shown.amount, currency)}` : "";
  const day = shown?.date && shown.date !== line.date ? `, ${dayText(shown.date)}` : "";
  if (line.is === "occurrence") return `${shown?.name ?? "what was expected"}, as expected${day}${sum}`;
  if (line.is === "entry") return `${shown?.name ?? "an entry"}, recorded already${day}`;
  if (line.is === "transfer")
    return `moved ${line.amount < 0 ? "to" : "from"} ${shown?.name ?? "another account"}${line.entry ? ", recorded there" : ""}`;
  return line.is === "known" ? "taken in before" : "something new";
}
