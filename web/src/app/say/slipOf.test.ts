import { beforeAll, expect, test } from "vitest";
import type { ChangeRequest } from "@/shared/api/client";
import { setWriting } from "@/shared/format";
import { slipOf } from "./slipOf";

const currencyOf = (account: string) => (account === "yen" ? "JPY" : "USD");
const filled = (change: Partial<ChangeRequest>) => slipOf([change as ChangeRequest], currencyOf);
beforeAll(() => setWriting({ decimals: { USD: 2, JPY: 0 }, notation: "1.234,56", date_order: "day_first" }));

test("what was spent is a new entry with its part, in the currency of its account", () => {
  const value = {
    date: "2027-02-28",
    account: "joint",
    amount: 1_234_50,
    payee: "Baker",
    parts: [{ category: "food" }],
  };
  expect(filled({ op: "spent", kind: "entry", id: "x", value })).toEqual({
    kind: "entry",
    id: null,
    start: "",
    values: {
      way: "spent",
      amount: "1.234,50",
      payee: "Baker",
      date: "2027-02-28",
      account: "joint",
      to_account: "",
      parts: [{ category: "food", amount: "" }],
    },
  });
  const moved = { date: "2027-02-28", account: "yen", to_account: "joint", amount: 900 };
  expect(filled({ op: "moved", kind: "entry", value: moved })?.values).toMatchObject({ amount: "900", payee: "" });
});

test("a new flow keeps its rhythm, or its dates, and when it ends", () => {
  const bill = { name: "Choir", kind: "bill", amount: 8_00, from_account: "joint", category: null };
  const weekly = filled({
    op: "add",
    kind: "flow",
    value: { ...bill, rules: ["FREQ=WEEKLY;BYDAY=TU"], start: "2027-03-02", until: "2027-12-31" },
  });
  expect(weekly).toMatchObject({ kind: "flow", id: null, start: "bill" });
  expect(weekly?.values).toMatchObject({ rules: ["FREQ=WEEKLY;BYDAY=TU"], ends: "until", until: "2027-12-31" });
  const once = filled({ op: "add", kind: "flow", value: { ...bill, dates: ["2027-03-14"] } });
  expect(once?.values).toMatchObject({ repeats: "dates", dates: [{ day: "2027-03-14", amount: "" }], amount: "8,00" });
});

test("a flow that is another from a day on opens as such, one date as that date, an end as an end", () => {
  const revised = filled({ op: "revise", kind: "flow", id: "rent", from: "2027-04-01", value: { amount: 1_240_00 } });
  expect(revised).toMatchObject({ kind: "flow", id: "rent", values: { holds: "from", since: "2027-04-01" } });
  expect(revised?.values.amount).toBe("1.240,00");
  const once = { op: "once", kind: "flow", id: "car", nominal: "2027-05-03" } as const;
  expect(filled({ ...once, value: { amount: 620_00 } })).toMatchObject({
    kind: "once",
    start: "2027-05-03~0~2027-05-03",
  });
  expect(filled({ ...once, value: { left_out: true } })?.values).toEqual({ left_out: true });
  expect(filled({ op: "update", kind: "flow", id: "web", value: { until: "2027-06-30" } })?.values).toEqual({
    ends: "until",
    until: "2027-06-30",
  });
});

test("what no one slip says has none: several changes, and what settles an expected day", () => {
  const left = { op: "once", kind: "flow", id: "a", nominal: "2027-05-03", value: { left_out: true } } as ChangeRequest;
  expect(slipOf([left, left], currencyOf)).toBeNull();
  expect(slipOf([], currencyOf)).toBeNull();
  expect(filled({ op: "add", kind: "entry", value: { legs: [] } })).toBeNull();
});
