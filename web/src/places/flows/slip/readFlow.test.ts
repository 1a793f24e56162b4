import { expect, test } from "vitest";
import { emptyForm, type FlowForm } from "./flowForm";
import { dateChanges, flowChanges, readForm, touched } from "./readFlow";
import { ALL_CHOSEN, begunOn, type Preset, readRule, writeRule } from "./rule";

const bill = (more: Partial<FlowForm> = {}): FlowForm => ({
  ...emptyForm("bill", "joint", "2027-03-01"),
  name: "Rent",
  amount: "1,050.00",
  ...more,
});

const fieldsOf = (form: FlowForm): Record<string, unknown> => {
  const read = readForm(form, "USD");
  if ("problem" in read) throw new Error(read.problem);
  return read.value;
};

test("a new bill is monthly on the day on which it begins, and says only what a bill has", () => {
  expect(fieldsOf(bill())).toMatchObject({
    kind: "bill",
    name: "Rent",
    amount: 105000,
    rules: ["FREQ=MONTHLY;BYMONTHDAY=1"],
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
  expect(readForm(bill({ amount: "a lot" }), "USD")).toHaveProperty("problem");
  expect(readForm(bill({ seasonal }), "USD")).toHaveProperty("field", "seasonal");
  expect(readForm(bill({ dates }), "USD")).toHaveProperty("field", "dates");
  expect(readForm(bill({ splits }), "USD")).toHaveProperty("field", "splits");
  expect(readForm(bill({ by_the_hour: true, rate: "-" }), "USD")).toHaveProperty("field", "rate");
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

test("a rhythm that the picker shows is written as it was read", () => {
  const rules = [
    "FREQ=DAILY",
    "FREQ=DAILY;INTERVAL=10",
    "FREQ=WEEKLY;INTERVAL=2;BYDAY=MO,FR",
    "FREQ=MONTHLY;BYMONTHDAY=1,15,-1",
    "FREQ=MONTHLY;INTERVAL=3;BYDAY=-1FR",
    "FREQ=YEARLY;BYMONTH=3,9;BYMONTHDAY=29",
    "FREQ=YEARLY;BYMONTH=11;BYDAY=4TH",
  ];
  for (const rule of rules) {
    const rhythm = readRule(rule, "2027-03-01");
    expect(rhythm && writeRule(rhythm)).toBe(rule);
  }
  for (const rule of ["FREQ=MONTHLY;BYSETPOS=-1;BYDAY=MO,TU", "FREQ=YEARLY;BYYEARDAY=100", "FREQ=MONTHLY;BYDAY=MO,FR"])
    expect(readRule(rule, "2027-03-01")).toBeNull();
});

test.each([
  ["FREQ=MONTHLY;BYMONTHDAY=1", [], "FREQ=MONTHLY;BYMONTHDAY=5"],
  ["FREQ=MONTHLY;BYMONTHDAY=20", ["monthDays"], "FREQ=MONTHLY;BYMONTHDAY=20"],
  ["FREQ=YEARLY;BYMONTH=3;BYMONTHDAY=1", [], "FREQ=YEARLY;BYMONTH=4;BYMONTHDAY=5"],
  ["FREQ=YEARLY;BYMONTH=9;BYMONTHDAY=1", ["months"], "FREQ=YEARLY;BYMONTH=9;BYMONTHDAY=5"],
  ["FREQ=WEEKLY;INTERVAL=2;BYDAY=TH", [], "FREQ=WEEKLY;INTERVAL=2;BYDAY=MO"],
  ["FREQ=MONTHLY;BYSETPOS=-1;BYDAY=MO,TU", [], "FREQ=MONTHLY;BYSETPOS=-1;BYDAY=MO,TU"],
] as [string, Preset[], string][])("%s with %j chosen, begun on April 5, is %s", (rule, chosen, begun) => {
  expect(begunOn(rule, "2027-04-05", chosen)).toBe(begun);
  expect(begunOn(rule, "2027-04-05", ALL_CHOSEN)).toBe(rule);
});
