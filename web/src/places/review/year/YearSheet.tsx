import { money } from "@/shared/format";
import { Costs } from "./Costs";
import { Sums } from "./Sums";
import type { Year } from "./YearEnd";

/** All that is told of a year, on the screen and on paper. */
export function YearSheet({ data }: { data: Year }) {
  const { currency } = data;
  const home = (amount: number) => money(amount, currency);
  const groups = (isIncome: boolean) =>
    data.groups
      .filter(({ kind }) => (kind === "income") === isIncome)
      .map(({ name, actual, expected }) => ({
        key: name,
        cells: [name || "In no group", home(actual), home(expected)],
      }));
  const [begins, ends] = data.worth;
  return (
    <>
      <p className="mb-3 text-lg">{told(data)}</p>
      <Sums
        title="What came in"
        columns={["Group", "Happened", "Expected"]}
        rows={groups(true)}
        total={["Together", home(data.income), ""]}
      />
      <Sums
        title="Where it went"
        columns={["Group", "Happened", "Expected"]}
        rows={groups(false)}
        total={["Together", home(data.spending), ""]}
      />
      <Sums
        title="Interest"
        columns={["On", "Paid", "Earned"]}
        rows={data.interest
          .filter(({ amount }) => amount !== 0)
          .map((each) => ({
            key: each.id,
            cells: [
              each.name,
              each.amount < 0 ? money(-each.amount, each.currency) : "",
              each.amount > 0 ? money(each.amount, each.currency) : "",
            ],
          }))}
      />
      <Sums
        title="What we have and owe"
        columns={["Account", "At the beginning", "At the end"]}
        rows={data.standings.map((each) => ({
          key: each.id,
          cells: [each.name, money(each.begins, each.currency), money(each.ends, each.currency)],
        }))}
        total={["Net worth", home(begins), home(ends)]}
      />
      <Sums
        title="Goals"
        columns={["Goal", "Met"]}
        rows={data.goals.map((each) => ({
          key: each.id,
          cells: [each.name, each.periods === 1 ? (each.met ? "yes" : "no") : `${each.met} of ${each.periods} times`],
        }))}
      />
      <Costs year={data.year} />
    </>
  );
}

function told({ year, today, kept, income, currency }: Year): string {
  const upTo = String(year) === today.slice(0, 4) ? " so far" : "";
  if (income === 0 && kept === 0) return `In ${year} nothing was earned or spent.`;
  if (kept < 0) return `In ${year} ${money(-kept, currency)} more was spent than came in${upTo}.`;
  return `In ${year} you kept ${money(kept, currency)} of ${money(income, currency)}${upTo}.`;
}
