import { beforeEach, describe, expect, test } from "vitest";
import { counted, dayText, digits, money, rateText, readAmount, readRate, setWriting, shareText } from "./format";
import { readDay } from "./readDay";

const DECIMALS = { USD: 2, EUR: 2, JPY: 0, KWD: 3 };
const NOTATIONS = ["1,234.56", "1.234,56", "1 234,56"];
const AMOUNTS = [0, 1, 9, 10, 99, 100, 101, 999, 1000, 12345, 99999, 100000, 123456789, 999999999999];
const write = (notation: string, date_order = "month_first") =>
  setWriting({ decimals: DECIMALS, notation, date_order });

describe.each(NOTATIONS)("written as %s", (notation) => {
  beforeEach(() => write(notation));

  test.each(Object.keys(DECIMALS))("what is written in %s is read again to the last unit", (currency) => {
    for (const amount of AMOUNTS.flatMap((size) => [size, -size]))
      expect(readAmount(digits(amount, currency), currency)).toEqual({ amount: amount === 0 ? 0 : amount });
  });

  test("a sum is worked out, and so is a difference", () => {
    const [a, b, c] = [1250, 199, 10000].map((amount) => digits(amount, "USD"));
    expect(readAmount(`${a} + ${b} - ${c}`, "USD")).toEqual({ amount: 1250 + 199 - 10000 });
  });

  test("a product is worked out, in a sum too", () => {
    const [a, b] = [2750, 84].map((amount) => digits(amount, "USD"));
    expect(readAmount(`${a}*12 + ${b}`, "USD")).toEqual({ amount: 2750 * 12 + 84 });
    expect(readAmount("27*12", "JPY")).toEqual({ amount: 324 });
    for (const text of [`${a}*`, `*12`, `${a}*1${notation[5]}5`, `${a}*999999*999999`])
      expect(readAmount(text, "USD")).toHaveProperty("problem");
  });

  test("a rate is read as it is written, with its sign or without", () => {
    for (const rate of ["0", "5", "22.9", "19.875", "-1.5"]) {
      expect(readRate(rateText(rate))).toEqual({ rate });
      expect(readRate(` ${rateText(rate)} % `)).toEqual({ rate });
    }
    expect(shareText("-12.5")).toBe(`−12${notation[5]}5\u00a0%`);
    for (const text of ["", "five", notation[5] === "," ? "22.9" : "22,9", "1-2", "%"])
      expect(readRate(text)).toHaveProperty("problem");
    expect(readAmount(digits(20_000_00, "USD"), "USD")).toEqual({ amount: 20_000_00 });
  });

  test("more decimals than a currency has, letters and nothing are refused in a sentence", () => {
    const mark = notation[5];
    for (const [text, currency] of [
      [`1${mark}234`, "USD"],
      [`5${mark}5`, "JPY"],
      ["twelve", "USD"],
      ["4o", "USD"],
      ["4ox", "USD"],
      ["l2", "USD"],
      ["4 kr", "USD"],
      ["", "USD"],
      [mark ?? "", "USD"],
      ["1--2", "USD"],
    ] as const)
      expect(readAmount(text, currency)).toHaveProperty("problem");
  });

  test("an amount of more digits than can be counted is refused", () => {
    expect(readAmount("99999999999999", "USD")).toEqual({ problem: "This amount is too large." });
  });
});

test("a mark that may be the decimal one is asked about, never guessed", () => {
  write("1,234.56");
  expect(readAmount("12,5", "USD")).toEqual({
    problem: "Is 12.50 meant? A comma stands between thousands here, as in 1,250.00.",
  });
  expect(readAmount("1,23,456.00", "USD")).toEqual({ amount: 12345600 });
});

test("an amount carries its currency, and a true minus", () => {
  write("1,234.56");
  expect(money(-123456, "USD")).toBe("−$1,234.56");
  expect(money(1200, "JPY")).toBe("¥1,200");
});

test("a day is read in the household's order, and by name in any", () => {
  write("1,234.56", "month_first");
  expect([readDay("3/4/2027"), readDay("Thu Mar 18, 2027"), readDay("2028-02-29")]).toEqual([
    "2027-03-04",
    "2027-03-18",
    "2028-02-29",
  ]);
  expect(dayText("2027-03-18", "2027-01-01")).toBe("Thu Mar 18");
  write("1,234.56", "day_first");
  expect([readDay("3/4/27"), readDay("3.4.2027"), readDay("18 March 2027")]).toEqual([
    "2027-04-03",
    "2027-04-03",
    "2027-03-18",
  ]);
  expect(dayText("2028-03-18", "2027-01-01")).toBe("Sat 18 Mar 2028");
  expect([readDay("31/2/2027"), readDay("29/2/2027"), readDay("soon")]).toEqual([null, null, null]);
});

test.each([
  ["1,234.56", "12,345"],
  ["1.234,56", "12.345"],
  ["1 234,56", "12\u202f345"],
])("counts are grouped as amounts are, in %s", (notation, text) => {
  setWriting({ decimals: { USD: 2 }, notation, date_order: "month_first" });
  expect(counted(12_345)).toBe(text);
  expect(counted(7)).toBe("7");
});
