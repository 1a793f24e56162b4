/** The entry slip's fields, and how they are said to the app: money spent, received or moved. */
import type { ChangeRequest, Schemas } from "@/shared/api/client";
import { digits, readAmount } from "@/shared/format";
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

export type ReadEntry = { value: Record<string, unknown> } | { field: string; problem: string };

/** What is said to the app, or the field that cannot be read yet and why. */
export function readForm(form: EntryForm, currencyOf: (account: string) => string): ReadEntry {
  const currency = currencyOf(form.account);
  const whole = readAmount(form.amount, currency);
  if ("problem" in whole) return { field: "amount", problem: whole.problem };
  const value: Record<string, unknown> = {
    date: form.date,
    payee: form.payee.trim(),
    account: form.account,
    amount: whole.amount,
    notes: form.notes,
    tags: form.tags
      .split(",")
      .map((tag) => tag.trim())
      .filter(Boolean),
    number: form.number.trim(),
    receipt: form.receipt,
  };
  if (form.way === "moved") {
    const arrives = form.arrives.trim() ? readAmount(form.arrives, currencyOf(form.to_account)) : { amount: null };
    if ("problem" in arrives) return { field: "arrives", problem: arrives.problem };
    const pays = form.pays && form.pays !== "extra" ? form.pays : null;
    return { value: { ...value, to_account: form.to_account, arrives: arrives.amount, pays } };
  }
  const parts: object[] = [];
  for (const [place, part] of form.parts.entries()) {
    const isLast = place === form.parts.length - 1;
    const read = isLast ? { amount: null } : readAmount(part.amount, currency);
    if ("problem" in read) return { field: `parts.${place}`, problem: read.problem };
    parts.push({ category: part.category, amount: read.amount });
  }
  return { value: { ...value, parts } };
}

export const entryChange = (form: EntryForm, id: string, value: Record<string, unknown>): ChangeRequest => ({
  op: form.way,
  kind: "entry",
  id,
  value,
});
