import { expect, test } from "vitest";
import { setWriting } from "./format";
import { readDay } from "./readDay";

const order = (date_order: "month_first" | "day_first") =>
  setWriting({ decimals: { USD: 2 }, notation: "1,234.56", date_order });

test.each([
  ["3/4/2027", "2027-03-04", "2027-04-03"],
  ["3.4.27", "2027-03-04", "2027-04-03"],
  ["13-4-2027", null, "2027-04-13"],
  ["2027-04-03", "2027-04-03", "2027-04-03"],
  ["2027/4/3", "2027-04-03", "2027-04-03"],
  ["3 Apr 2027", "2027-04-03", "2027-04-03"],
  ["April 3, 2027", "2027-04-03", "2027-04-03"],
  ["Sat, 3 April 2027", "2027-04-03", "2027-04-03"],
  ["2/29/2028", "2028-02-29", null],
  ["29 Feb 2027", null, null],
  ["31/4/2027", null, null],
  ["soon", null, null],
  ["", null, null],
])("%s is read in the household's order, and what is no date is none", (text, monthFirst, dayFirst) => {
  order("month_first");
  expect(readDay(text)).toBe(monthFirst);
  order("day_first");
  expect(readDay(text)).toBe(dayFirst);
});
