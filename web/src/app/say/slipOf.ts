/** What was said, as the fields of the slip in which it can be looked over and changed. */
import type { ChangeRequest } from "@/shared/api/client";
import { digits } from "@/shared/format";
import type { SlipAddress } from "@/shared/view";

export interface FilledSlip {
  kind: SlipAddress["kind"];
  id: string | null;
  start: string;
  values: Record<string, unknown>;
}

type Fields = Record<string, unknown>;

/** The slip that says the same; null for what no one slip says. */
export function slipOf(changes: readonly ChangeRequest[], currencyOf: (account: string) => string): FilledSlip | null {
  const [change] = changes;
  if (!change || changes.length > 1) return null;
  const value = (change.value ?? {}) as Fields;
  if (change.kind === "entry")
    return ["spent", "received", "moved"].includes(change.op) ? entry(change.op, value) : null;
  if (change.kind !== "flow") return null;
  if (change.op === "add") return flow(value);
  const amount = value.amount === undefined ? {} : { amount: digits(value.amount as number, currencyOf("")) };
  if (change.op === "revise") {
    const rules = value.rules ? { rules: value.rules, chosen: [[]] } : {};
    return {
      kind: "flow",
      id: change.id ?? "",
      start: "",
      values: { holds: "from", since: change.from, ...amount, ...rules },
    };
  }
  if (change.op === "once" && value.amount !== undefined)
    // What was planned is not known here: whatever stands there is touched.
    return { kind: "once", id: change.id ?? "", start: `${change.nominal}~0~${change.nominal}`, values: amount };
  if (change.op === "once" && value.left_out)
    return {
      kind: "once",
      id: change.id ?? "",
      start: `${change.nominal}~0~${change.nominal}`,
      values: { left_out: true },
    };
  if (change.op === "update")
    return { kind: "flow", id: change.id ?? "", start: "", values: { ends: "until", until: value.until } };
  return null;

  function entry(way: string, said: Fields): FilledSlip {
    const parts = ((said.parts ?? []) as Fields[]).map(({ category }) => ({ category: category ?? "", amount: "" }));
    const values = {
      way,
      amount: digits(said.amount as number, currencyOf(said.account as string)),
      payee: said.payee ?? "",
      date: said.date,
      account: said.account,
      to_account: said.to_account ?? "",
      ...(parts.length ? { parts } : {}),
    };
    return { kind: "entry", id: null, start: "", values };
  }

  function flow(said: Fields): FilledSlip {
    const account = (said.from_account ?? said.to_account ?? "") as string;
    const when = said.dates
      ? { repeats: "dates", dates: (said.dates as string[]).map((day) => ({ day, amount: "" })) }
      : { rules: said.rules, chosen: [["weekdays", "month_days", "months", "place_day"]], start: said.start };
    const ends = said.until ? { ends: "until", until: said.until } : {};
    const values = {
      kind: said.kind,
      name: said.name,
      amount: digits(said.amount as number, currencyOf(account)),
      from_account: said.from_account ?? "",
      to_account: said.to_account ?? "",
      category: said.category ?? "",
      payee: said.payee ?? "",
      ...when,
      ...ends,
    };
    return { kind: "flow", id: null, start: said.kind as string, values };
  }
}
