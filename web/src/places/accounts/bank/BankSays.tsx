import { useState } from "react";
import type { Schemas } from "@/shared/api/client";
import { useHousehold } from "@/shared/api/hooks";
import { readAmount } from "@/shared/format";
import { AmountField, DayField } from "@/shared/kit/fields/TypedFields";
import { Explained } from "./Explained";
import { KeptReadings } from "./KeptReadings";
import { type Asked, useReadingCheck } from "./useReadings";

type Row = Schemas["AccountRow"];

/** The balance that the bank shows, typed beside the books: it agrees, or what would explain the difference. */
export function BankSays({ row }: { row: Row }) {
  const today = useHousehold().data?.today ?? "";
  const [text, setText] = useState("");
  const [day, setDay] = useState("");
  const { account, is_debt } = row;
  const currency = account.currency ?? "USD";
  const read = readAmount(text, currency);
  const date = day || today;
  // What is owed is typed as one reads it, and is below zero in the books.
  const asked: Asked | null =
    "amount" in read && text.trim() !== ""
      ? { account: account.id, date, balance: is_debt ? -read.amount : read.amount }
      : null;
  const { data, error } = useReadingCheck(asked);
  const title = account.kind === "cash" ? "Counted" : "The bank says";
  const done = () => {
    setText("");
    setDay("");
  };
  return (
    <section aria-label={title} className="mb-4 border-y border-rule py-3">
      <div className="flex flex-wrap items-end gap-x-4 gap-y-2">
        <h2 className="min-h-10 pt-2 text-lg">{title}</h2>
        <AmountField
          label={`${is_debt ? "Owed" : "Balance"} (${currency})`}
          value={text}
          onChange={setText}
          problem={text.trim() !== "" && "problem" in read ? read.problem : undefined}
        />
        <DayField label="At the end of" value={date} onChange={setDay} max={today} />
      </div>
      {error && asked && (
        <p role="alert" className="mt-2 text-rust">
          {error.message}
        </p>
      )}
      {asked && data && !error && <Explained asked={asked} check={data} isDebt={is_debt} onDone={done} />}
      <KeptReadings account={account.id} isDebt={is_debt} />
    </section>
  );
}
