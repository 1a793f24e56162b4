/** The words that are ours, each explained in a sentence. */
export const WORDS: [string, string][] = [
  [
    "Tideline",
    "the balance of the chosen accounts, day by day: solid for what is recorded, dashed for what is expected.",
  ],
  ["Floor", "what an account should never fall below. You choose it."],
  ["Cushion", "a little above the floor, where you begin to look twice."],
  ["Headroom", "how far a balance is above its floor."],
  ["Low point", "the day in a month on which the least is left."],
  ["Slip", "the paper at the right on which something is written or changed."],
  ["Settle", "say that something expected has happened."],
  ["Leave out, put off", "it does not happen this time; it happens on a later day."],
  ["Just this once, from here on", "only this date; this date and all after it."],
  ["Allowance", "a limit for spending that has no date of its own, such as groceries."],
  ["Remedy", "something that would keep an account above its floor."],
  ["What-if", "changes that are tried, in copper, without touching the plan."],
];
