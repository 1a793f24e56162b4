/** The entry slip's fields, and how they are said to the app: money spent, received or moved. */

import type { ChangeRequest, Schemas } from "@/shared/api/client";
import { amountIn, amountOr, type Fields, readFields } from "@/shared/fields";
import { digits } from "@/shared/format";
import { z } from "@/shared/zod";
import type { Receipt } from "./ReceiptField";

export type EntryAnswer = Schemas["EntryAnswer"];
export type Way = "spent" | "received" | "moved";

export interface Part {
  category: string;
  amount: string;
}

export interface EntryForm {
  way: Way;
  amount: string;
  payee: string;
  date: string;
  account: string;
  to_account: string;
  /** What arrives in another currency; empty for what the day's rate says. */
  arrives: string;
  /** Of a move to a loan that may be a payment: its due date, `extra`, or empty while nobody has said. */
  pays: string;
  /** One part takes the whole amount; with several, the last takes what the others leave. */
  parts: Part[];
  notes: string;
  /** Tags, with commas between them. */
  tags: string;
  /** Of a check, as it is printed. */
  number: string;
  receipt: Receipt | null;
}

/** The form of an entry; null for one that this form cannot say. */
export function formOf({ way, said }: EntryAnswer, currencyOf: (account: string) => string): EntryForm | null {
  if (!way || !said) return null;
  const currency = currencyOf(said.account ?? "");
  const arriving = currencyOf(said.to_account ?? "");
  return {
    way,
    amount: digits(said.amount, currency),
    payee: said.payee ?? "",
    date: said.date,
    account: said.account ?? "",
    to_account: said.to_account ?? "",
    arrives: said.arrives != null && arriving !== currency ? digits(said.arrives, arriving) : "",
    pays: "extra",
    parts: (said.parts ?? []).map((part) => ({
      category: part.category ?? "",
      amount: part.amount == null ? "" : digits(part.amount, currency),
    })),
    notes: said.notes ?? "",
    tags: (said.tags ?? []).join(", "),
    number: said.number ?? "",
    receipt: said.receipt ?? null,
  };
}

export type ReadEntry = Fields<Record<string, unknown> & { amount: number }>;

/** What is said to the app, or what cannot be read yet and why. */
export function readForm(form: EntryForm, currencyOf: (account: string) => string): ReadEntry {
  const currency = currencyOf(form.account);
  const isMoved = form.way === "moved";
  const last = form.parts.length - 1;
  const read = readFields(
    z.object({
      amount: amountIn(currency),
      arrives: amountOr(null, currencyOf(form.to_account)),
      parts: z.array(z.object({ category: z.string(), amount: z.nullable(amountIn(currency)) })),
    }),
    {
      amount: form.amount,
      arrives: isMoved ? form.arrives : "",
      // The last takes what the others leave.
      parts: isMoved ? [] : form.parts.map((part, place) => ({ ...part, amount: place === last ? null : part.amount })),
    },
  );
  if ("problems" in read) return read;
  const { amount, arrives, parts } = read.value;
  const pays = form.pays && form.pays !== "extra" ? form.pays : null;
  return {
    value: {
      date: form.date,
      payee: form.payee.trim(),
      account: form.account,
      amount,
      notes: form.notes,
      tags: form.tags
        .split(",")
        .map((tag) => tag.trim())
        .filter(Boolean),
      number: form.number.trim(),
      receipt: form.receipt,
      ...(isMoved ? { to_account: form.to_account, arrives, pays } : { parts }),
    },
  };
}

export const entryChange = (form: EntryForm, id: string, value: Record<string, unknown>): ChangeRequest => ({
  op: form.way,
  kind: "entry",
  id,
  value,
});
