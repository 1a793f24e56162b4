import { expect, test } from "vitest";
import { type Due, withLinesAsBefore } from "./useSettle";

const line = (flow: string, amount: number) => ({ flow, nominal: "2027-03-01", amount }) as Due;

test("lines that are as before are the same objects, wherever they stand now", () => {
  const before = { due: [line("rent", 1), line("power", 2), line("water", 3)] };
  const read = { due: [line("power", 2), line("water", 4)] };
  const after = withLinesAsBefore(before, read) as typeof before;
  expect(after).toEqual(read);
  expect(after.due[0]).toBe(before.due[1]);
  expect(after.due[1]).not.toBe(before.due[2]);
});
