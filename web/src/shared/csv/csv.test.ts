import { expect, test } from "vitest";
import { setWriting } from "@/shared/format";
import { csvOf } from "./csv";

test("a table keeps amounts exact, texts whole, and runs no formula", () => {
  setWriting({ decimals: { USD: 2, JPY: 0 }, notation: "1.234,56", date_order: "day_first" });
  const rows = [
    ["2027-03-01", 'Say "ahoy", then', { amount: -5, currency: "USD" }],
    ["", "=1+1", { amount: 123456, currency: "USD" }],
    [null, "two\nlines", { amount: -700, currency: "JPY" }],
  ] as const;
  expect(csvOf(["day", "name", "amount"], rows)).toBe(
    'day,name,amount\r\n2027-03-01,"Say ""ahoy"", then",-0.05\r\n,\'=1+1,1234.56\r\n,"two\nlines",-700\r\n',
  );
});
