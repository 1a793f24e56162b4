import { beforeAll, expect, test } from "vitest";
import { setWriting } from "@/shared/format";
import { type EntryForm, entryChange, formOf, readForm } from "./entryForm";

const currencyOf = (account: string) => ({ yen: "JPY", euro: "EUR" })[account] ?? "USD";
beforeAll(() => setWriting({ decimals: { USD: 2, EUR: 2, JPY: 0 }, notation: "1,234.56", date_order: "month_first" }));

const FORM: EntryForm = {
  way: "spent",
  amount: "30.00",
  payee: "  Corner shop ",
  date: "2027-03-01",
  account: "joint",
  to_account: "",
  arrives: "",
  pays: "",
  parts: [{ category: "food", amount: "" }],
  notes: "",
  number: "",
  tags: "trip, , work ",
  receipt: null,
};

test("one part takes the whole amount, and names lose the spaces around them", () => {
  expect(readForm(FORM, currencyOf)).toEqual({
    value: {
      date: "2027-03-01",
      payee: "Corner shop",
      account: "joint",
      amount: 3000,
      number: "",
      notes: "",
      tags: ["trip", "work"],
      receipt: null,
      parts: [{ category: "food", amount: null }],
    },
  });
});

test("of several parts the last takes what the others leave; one that cannot be read is named", () => {
  const parts = [
    { category: "food", amount: "12.50" },
    { category: "fun", amount: "99" },
  ];
  expect(readForm({ ...FORM, parts }, currencyOf)).toMatchObject({
    value: {
      parts: [
        { category: "food", amount: 1250 },
        { category: "fun", amount: null },
      ],
    },
  });
  const odd = [{ category: "food", amount: "half" }, ...parts];
  expect(readForm({ ...FORM, parts: odd }, currencyOf)).toHaveProperty(["problems", "parts.0"]);
  expect(readForm({ ...FORM, amount: "" }, currencyOf)).toHaveProperty(["problems", "amount"]);
});

test("money moved to another currency may say what arrives, in that currency's units", () => {
  const moved: EntryForm = { ...FORM, way: "moved", to_account: "yen", arrives: "4,500" };
  expect(readForm(moved, currencyOf)).toMatchObject({ value: { to_account: "yen", amount: 3000, arrives: 4500 } });
  expect(readForm({ ...moved, arrives: "" }, currencyOf)).toMatchObject({ value: { arrives: null } });
  expect(readForm({ ...moved, arrives: "4,500.5" }, currencyOf)).toHaveProperty(["problems", "arrives"]);
});

test("what was said of an entry stands in the form, and is said again the same", () => {
  for (const way of ["spent", "received"] as const) {
    const read = readForm({ ...FORM, way }, currencyOf);
    if (!("value" in read)) throw new Error("unread");
    const form = formOf({ way, said: read.value } as unknown as Parameters<typeof formOf>[0], currencyOf);
    expect(form && readForm(form, currencyOf)).toEqual(read);
    expect(entryChange(FORM, "e1", read.value)).toMatchObject({ op: "spent", kind: "entry", id: "e1" });
  }
});
