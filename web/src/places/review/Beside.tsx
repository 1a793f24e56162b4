import type { Schemas } from "@/shared/api/client";
import { dayText, money, shareText } from "@/shared/format";
import { Wide } from "@/shared/kit/Wide";

type Answer = Schemas["ReviewAnswer"];
type Totals = Schemas["TotalsModel"];

/** The stretch beside the one before and the same a year ago, and what balances did in it. */
export function Beside({ data }: { data: Answer }) {
  const columns: [string, Totals][] = [
    ["These days", data],
    ["The stretch before", data.before],
    ["A year ago", data.year_ago],
  ];
  const rows: [string, (totals: Totals) => string][] = [
    ["Income", (oneTotals) => money(oneTotals.income.actual, data.currency)],
    ["Spending", (oneTotals) => money(oneTotals.spending.actual, data.currency)],
    ["Kept", (oneTotals) => money(oneTotals.kept.actual, data.currency)],
    ["Kept of income", (oneTotals) => (oneTotals.kept.share === null ? "—" : shareText(oneTotals.kept.share))],
    ["Expected to be kept", (oneTotals) => money(oneTotals.kept.expected, data.currency)],
  ];
  return (
    <section aria-label="Beside other days" className="mt-6">
      <h2 className="mb-1 text-lg">Beside other days</h2>
      <Wide label="These days, the ones before and a year ago">
        <table className="w-full max-w-3xl border-collapse text-right">
          <thead>
            <tr className="border-b border-rule-strong text-sm text-pencil [&>th]:px-2 [&>th]:py-1 [&>th]:font-normal">
              <th className="!pl-0 text-left">Figure</th>
              {columns.map(([name]) => (
                <th key={name}>{name}</th>
              ))}
            </tr>
          </thead>
          <tbody>
            {rows.map(([name, figureOf]) => (
              <tr key={name} className="border-b border-rule [&>td]:px-2 [&>td]:py-0.5 [&>td]:whitespace-nowrap">
                <td className="!pl-0 text-left">{name}</td>
                {columns.map(([column, totals]) => (
                  <td key={column}>{figureOf(totals)}</td>
                ))}
              </tr>
            ))}
          </tbody>
        </table>
      </Wide>
      <Balances data={data} />
    </section>
  );
}

function Balances({ data }: { data: Answer }) {
  const { balances, moved, currency, today } = data;
  const figureOf: [string, string][] = [
    ...(balances
      ? ([
          ["Opening", money(balances.opening, currency)],
          ["Closing", money(balances.closing, currency)],
          ["Highest", `${money(balances.highest.balance, currency)}, ${dayText(balances.highest.date, today)}`],
          ["Lowest", `${money(balances.lowest.balance, currency)}, ${dayText(balances.lowest.date, today)}`],
          ["On average", money(balances.average, currency)],
          ["Days below the floor", String(balances.days_below_floor)],
          ["Days below the cushion", String(balances.days_below_cushion)],
        ] as [string, string][])
      : []),
    ["Put into savings", money(moved.saved, currency)],
    ["Repaid on debts", money(moved.repaid, currency)],
    ["Borrowed", money(moved.borrowed, currency)],
    ...(data.revaluation == null
      ? []
      : [["Exchange rates alone", money(data.revaluation, currency)] satisfies [string, string]]),
  ];
  return (
    <dl className="mt-4 grid max-w-3xl grid-cols-2 gap-x-8 gap-y-1 md:grid-cols-3">
      {figureOf.map(([name, value]) => (
        <div key={name} className="flex flex-wrap justify-between gap-x-2 border-b border-rule py-0.5">
          <dt className="text-pencil">{name}</dt>
          <dd>{value}</dd>
        </div>
      ))}
    </dl>
  );
}
