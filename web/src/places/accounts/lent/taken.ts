import type { ChangeRequest } from "@/shared/api/client";

interface Value {
  kind: string;
  opening: { date: string; balance: number };
  lent?: { to: string } | null | undefined;
}

/** A new account; of money lent that left another account on the day, with what left it recorded. */
export function taken(id: string, entry: string, value: Value, from: string): ChangeRequest[] {
  if (value.kind !== "owed_to_us" || !from) return [{ op: "add", kind: "account", id, value: { ...value } }];
  const { date, balance } = value.opening;
  const opened = { ...value, opening: { date, balance: 0 } };
  const moved = { date, account: from, to_account: id, amount: balance, payee: value.lent?.to ?? "" };
  return [
    { op: "add", kind: "account", id, value: opened },
    { op: "moved", kind: "entry", id: entry, value: moved },
  ];
}
