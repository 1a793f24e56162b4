import { expect, test } from "vitest";
import { problemOf } from "@/shared/fields";
import { emptyForm, type FlowForm } from "./flowForm";
import { dateChanges, flowChanges, readForm, touched } from "./readFlow";
import {
  ALL_CHOSEN,
  begunOn,
  type Preset,
  type Rhythm,
  rhythmFrom,
  USUAL,
  usualOf,
  usualRhythm,
} from "./rhythm/rhythm";

const bill = (more: Partial<FlowForm> = {}): FlowForm => ({
  ...emptyForm("bill", "joint", "2027-03-01"),
  name: "Rent",
  amount: "1,050.00",
  ...more,
});

const fieldsOf = (form: FlowForm): Record<string, unknown> => {
  const read = readForm(form, "USD");
  if ("problems" in read) throw new Error(JSON.stringify(read.problems));
  return read.value;
};

test("a new bill is monthly on the day on which it begins, and says only what a bill has", () => {
  expect(fieldsOf(bill())).toMatchObject({
    kind: "bill",
    name: "Rent",
    amount: 105000,
    rules: [rhythmFrom("2027-03-01")],
    from_account: "joint",
    to_account: null,
    hourly: null,
    until: null,
    count: null,
  });
});

test("what cannot be read yet is a problem of its own field", () => {
  const seasonal = Array(12).fill("");
  seasonal[6] = "much";
  const dates = [{ day: "2027-04-01", amount: "x" }];
  const splits = [{ amount: "1.001", goes: "category:fun" }];
  const all = readForm(bill({ amount: "a lot", seasonal, dates, splits }), "USD");
  for (const field of ["amount", "seasonal.6", "seasonal", "dates", "splits"])
    expect(problemOf(all, field)).toBeTruthy();
  expect(problemOf(all, "seasonal.5")).toBeUndefined();
  const paid = readForm(bill({ by_the_hour: true, amount: "a lot", rate: "-" }), "USD");
  expect(problemOf(paid, "rate")).toBeTruthy();
  expect(problemOf(paid, "amount")).toBeUndefined();
});

test("an edit says from which day, and only what was touched", () => {
  const initial = bill();
  const form = bill({ amount: "1,100.00", holds: "from", since: "2027-09-01" });
  expect(flowChanges(form, initial, "rent", "USD", fieldsOf(form))).toEqual([
    { op: "revise", kind: "flow", id: "rent", from: "2027-09-01", value: { amount: 110000 } },
  ]);
  const always = { ...form, holds: "always" as const };
  expect(flowChanges(always, initial, "rent", "USD", fieldsOf(always))[0]).toMatchObject({ op: "revise", from: null });
});

test("another kind, or dates in the place of a rhythm, is another plan: all of it is said", () => {
  const form = bill({ repeats: "dates", dates: [{ day: "2027-05-02", amount: "" }] });
  const [said] = flowChanges(form, bill(), "rent", "USD", fieldsOf(form));
  expect(said).toMatchObject({ op: "update", value: { name: "Rent", dates: ["2027-05-02"], rules: [] } });
});

test("a date of its own with another amount is said once; one that went takes its amount along", () => {
  const before = bill({
    dates: [
      { day: "2027-04-01", amount: "10" },
      { day: "2027-06-01", amount: "30" },
    ],
  });
  const now = bill({
    dates: [
      { day: "2027-04-01", amount: "12.50" },
      { day: "2027-05-01", amount: "20" },
    ],
  });
  expect(dateChanges(now, before, "rent", "USD")).toEqual([
    { op: "once", kind: "flow", id: "rent", nominal: "2027-04-01", value: { amount: 1250 } },
    { op: "once", kind: "flow", id: "rent", nominal: "2027-05-01", value: { amount: 2000 } },
    { op: "once", kind: "flow", id: "rent", nominal: "2027-06-01", value: null },
  ]);
});

test("nothing is said of what nobody touched", () => {
  expect(touched(fieldsOf(bill()), fieldsOf(bill()))).toEqual({});
});

const rhythm = (more: Partial<Rhythm>): Rhythm => ({ ...rhythmFrom("2027-03-01"), ...more });

test.each([
  [{}, [], { month_days: [5] }],
  [{ month_days: [20] }, ["month_days"], { month_days: [20] }],
  [{ unit: "YEARLY" }, [], { months: [4], month_days: [5] }],
  [{ unit: "YEARLY", months: [9] }, ["months"], { months: [9], month_days: [5] }],
  [{ unit: "WEEKLY", every: 2, weekdays: ["TH"] }, [], { every: 2, weekdays: ["MO"] }],
] as [Partial<Rhythm>, Preset[], Partial<Rhythm>][])(
  "%j with %j chosen, begun on April 5, is %j",
  (rule, chosen, begun) => {
    expect(begunOn(rhythm(rule), "2027-04-05", chosen)).toMatchObject(begun);
    expect(begunOn(rhythm(rule), "2027-04-05", ALL_CHOSEN)).toEqual(rhythm(rule));
    expect(begunOn("a rule that is no rhythm", "2027-04-05", chosen)).toBe("a rule that is no rhythm");
  },
);

test("a usual rhythm is told by what its unit uses, from the day on which it starts", () => {
  for (const { value } of USUAL) expect(usualOf([usualRhythm(value, "2027-03-05")], "2027-03-05")).toBe(value);
  expect(usualOf([rhythm({ months: [9] })], "2027-03-01")).toBe("MONTHLY/1");
  expect(usualOf([rhythm({ month_days: [1, 15] })], "2027-03-01")).toBeNull();
  expect(usualOf([rhythm({ month_days: [15] })], "")).toBe("MONTHLY/1");
  expect(usualOf([rhythm({}), rhythm({ unit: "YEARLY" })], "2027-03-01")).toBeNull();
  expect(usualOf(["a rule that is no rhythm"], "2027-03-01")).toBeNull();
});
