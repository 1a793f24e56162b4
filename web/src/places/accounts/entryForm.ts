/** The entry slip's fields, and how they become the legs of an entry. */
import type { Schemas } from "@/shared/api/client";
import { digits, readAmount } from "@/shared/format";
import type { Receipt } from "./ReceiptField";

export type Entry = Schemas["Entry"];
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
  /** One part takes the whole amount; with several, the last takes what the others leave. */
  parts: Part[];
  notes: string;
  /** Tags, with commas between them. */
  tags: string;
  receipt: Receipt | null;
}

/** The form of an entry; null for one whose legs this form cannot show whole. */
export function formOf(entry: Entry, currencyOf: (account: string) => string): EntryForm | null {
  const accounts = entry.legs.filter((leg) => leg.account);
  const categories = entry.legs.filter((leg) => leg.category);
  const [first, second] = accounts;
  if (!first?.account) return null;
  const currency = currencyOf(first.account);
  const base = { payee: entry.payee ?? "", date: entry.date, notes: entry.notes ?? "", ...extrasOf(entry) };
  if (accounts.length === 2 && categories.length === 0 && second?.account && first.amount === -second.amount) {
    const [from, to] = first.amount < 0 ? [first, second] : [second, first];
    const amount = digits(Math.abs(first.amount), currency);
    return { ...base, way: "moved", amount, account: from.account ?? "", to_account: to.account ?? "", parts: [] };
  }
  if (accounts.length !== 1 || categories.length === 0) return null;
  const way: Way = first.amount > 0 ? "received" : "spent";
  const sign = way === "spent" ? 1 : -1;
  return {
    ...base,
    way,
    amount: digits(Math.abs(first.amount), currency),
    account: first.account,
    to_account: "",
    parts: categories.map((leg) => ({ category: leg.category ?? "", amount: digits(sign * leg.amount, currency) })),
  };
}

const extrasOf = (entry: Entry) => ({ tags: (entry.tags ?? []).join(", "), receipt: entry.receipt ?? null });

/** The tags that a person wrote, each once. */
function readTags(text: string): string[] {
  const tags = text.split(",").map((tag) => tag.trim());
  return [...new Set(tags.filter(Boolean))];
}

/** The fields to set, or the field that cannot be read yet and why. */
export function readForm(form: EntryForm, currency: string): { value: object } | { field: string; problem: string } {
  const whole = readAmount(form.amount, currency);
  if ("problem" in whole) return { field: "amount", problem: whole.problem };
  const common = {
    date: form.date,
    payee: form.payee.trim(),
    notes: form.notes,
    tags: readTags(form.tags),
    receipt: form.receipt,
  };
  if (form.way === "moved") {
    const legs = [
      { account: form.account, amount: -whole.amount },
      { account: form.to_account, amount: whole.amount },
    ];
    return { value: { ...common, legs } };
  }
  const sign = form.way === "spent" ? 1 : -1;
  let rest = whole.amount;
  const legs: object[] = [{ account: form.account, amount: -sign * whole.amount }];
  for (const [place, part] of form.parts.entries()) {
    if (!part.category) return { field: `parts.${place}`, problem: "Choose a category." };
    const isLast = place === form.parts.length - 1;
    const read = isLast ? { amount: rest } : readAmount(part.amount, currency);
    if ("problem" in read) return { field: `parts.${place}`, problem: read.problem };
    rest -= read.amount;
    legs.push({ category: part.category, amount: sign * read.amount });
  }
  return { value: { ...common, legs } };
}
