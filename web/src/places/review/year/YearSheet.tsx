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
          .map((rowOfYear) => ({
            key: rowOfYear.id,
            cells: [
              rowOfYear.name,
              rowOfYear.amount < 0 ? money(-rowOfYear.amount, rowOfYear.currency) : "",
              rowOfYear.amount > 0 ? money(rowOfYear.amount, rowOfYear.currency) : "",
            ],
          }))}
      />
      <Sums
        title="What we have and owe"
        columns={["Account", "At the beginning", "At the end"]}
        rows={data.standings.map((standing) => ({
          key: standing.id,
          cells: [standing.name, money(standing.begins, standing.currency), money(standing.ends, standing.currency)],
        }))}
        total={["Net worth", home(begins), home(ends)]}
      />
      <Sums
        title="Goals"
        columns={["Goal", "Met"]}
        rows={data.goals.map((goal) => ({
          key: goal.id,
          cells: [goal.name, goal.periods === 1 ? (goal.met ? "yes" : "no") : `${goal.met} of ${goal.periods} times`],
        }))}
      />
      <Costs year={data.year} />
    </>
  );
}

function told({ year, today, kept: saved, income, currency }: Year): string {
  const upTo = String(year) === today.slice(0, 4) ? " so far" : "";
  if (income === 0 && saved === 0) return `In ${year} nothing was earned or spent.`;
  if (saved < 0) return `In ${year} ${money(-saved, currency)} more was spent than came in${upTo}.`;
  return `In ${year} you kept ${money(saved, currency)} of ${money(income, currency)}${upTo}.`;
}
