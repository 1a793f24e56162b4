import { Fragment, useState } from "react";
import { type Asked, askedQuery, type Way } from "@/places/debts/way/wayOut";
import { digits, money, monthOf } from "@/shared/format";
import { Button } from "@/shared/kit/Button";
import { useToast } from "@/shared/kit/Toast";
import { Wide } from "@/shared/kit/Wide";

interface Props {
  way: Way;
  asked: Asked;
}

const AT_FIRST = 24;

/** Month by month and debt by debt: what is paid, the extra set off, and what is then owed. */
export function WayMonths({ way, asked }: Props) {
  const [isWhole, setWhole] = useState(false);
  const toast = useToast();
  const shown = isWhole ? way.months : way.months.slice(0, AT_FIRST);
  const clears = new Map<string, Way["debts"]>();
  for (const debt of way.debts) if (debt.clears) clears.set(debt.clears, [...(clears.get(debt.clears) ?? []), debt]);
  const link = "inline-flex min-h-10 items-center rounded-sm px-2 text-copper hover:bg-hover";
  const copy = async () => {
    await navigator.clipboard.writeText(asText(way));
    toast("Copied, a line for each month.");
  };
  return (
    <section aria-label="Month by month" className="mt-8">
      <div className="flex flex-wrap items-baseline gap-x-2 border-b border-rule-strong">
        <h2 className="mr-2 text-lg">Month by month</h2>
        <Button look="link" onClick={copy}>
          Copy
        </Button>
        <a className={link} href={`/api/payoff/table.csv?${askedQuery(asked)}`}>
          CSV
        </a>
        <a className={link} href={`/api/payoff/table.xlsx?${askedQuery(asked)}`}>
          Workbook
        </a>
        <a className={link} href={`/print/way-out?${askedQuery(asked)}`} target="_blank" rel="noreferrer">
          Print
        </a>
      </div>
      <Wide label="The months, debt by debt" className="@4xl:overflow-visible">
        <table className="w-full border-collapse text-right">
          <thead className="bg-paper @4xl:sticky @4xl:top-0">
            <tr className="border-b border-rule text-sm text-pencil [&>th]:px-2 [&>th]:py-1 [&>th]:font-normal">
              <th className="text-left">Month</th>
              {way.debts.map((debt) => (
                <th key={debt.id}>{debt.name}</th>
              ))}
              <th>Paid in all</th>
              <th>Owed then</th>
            </tr>
          </thead>
          <tbody>
            {shown.map((month, place) => (
              <Fragment key={month.month}>
                <MonthLine month={month} way={way} paid={way.paid[place] ?? 0} owed={way.owed[place] ?? 0} />
                {clears.get(month.month)?.map((debt) => (
                  <tr key={debt.id} className="border-b border-rule text-left text-sm text-pencil">
                    <td colSpan={way.debts.length + 3} className="px-2 pb-1">
                      {debt.name} is clear.{" "}
                      {(asked.roll_freed ?? true) && way.strategy !== "minimums" && month.month !== way.debt_free
                        ? `Its ${money(debt.frees, way.currency)} a month go on to the next debt.`
                        : `Its ${money(debt.frees, way.currency)} a month stay with you.`}
                    </td>
                  </tr>
                ))}
              </Fragment>
            ))}
          </tbody>
        </table>
      </Wide>
      {!isWhole && way.months.length > AT_FIRST && (
        <Button className="mt-2" onClick={() => setWhole(true)}>
          All {way.months.length} months
        </Button>
      )}
    </section>
  );
}

interface LineProps {
  way: Way;
  month: Way["months"][number];
  /** On all debts together: what is paid in the month, and what is owed after it. */
  paid: number;
  owed: number;
}

function MonthLine({ way, month, paid, owed }: LineProps) {
  const { currency } = way;
  return (
    <tr className="border-b border-rule align-top">
      <th scope="row" className="px-2 py-1 text-left font-normal whitespace-nowrap">
        {monthOf(month.month)}
      </th>
      {way.debts.map((debt) => (
        <Cell key={debt.id} debt={month.debts[debt.id]} currency={currency} />
      ))}
      <td className="px-2 py-1">
        {digits(paid, currency)}
        {month.left_over > 0 && (
          <span className="block text-sm text-pencil">{digits(month.left_over, currency)} left over</span>
        )}
      </td>
      <td className="px-2 py-1">{digits(owed, currency)}</td>
    </tr>
  );
}

function Cell({ debt, currency }: { debt: Way["months"][number]["debts"][string] | undefined; currency: string }) {
  if (!debt?.opening) return <td />;
  return (
    <td className="px-2 py-1 whitespace-nowrap">
      {digits(debt.minimum, currency)}
      {debt.extra > 0 && <span className="text-copper"> + {digits(debt.extra, currency)}</span>}
      <span className="block text-sm text-pencil">
        {debt.closing === 0 ? <strong className="text-teal">clear</strong> : digits(debt.closing, currency)}
      </span>
    </td>
  );
}

/** Lines of tabs, as a spreadsheet takes them. */
function asText(way: Way): string {
  const names = way.debts.flatMap((debt) => [`${debt.name}, minimum`, `${debt.name}, extra`, `${debt.name}, owed`]);
  const lines = way.months.map((month) =>
    [
      month.month,
      ...way.debts.flatMap((debt) => {
        const cell = month.debts[debt.id];
        return [cell?.minimum ?? 0, cell?.extra ?? 0, cell?.closing ?? 0].map((amount) =>
          digits(amount, way.currency).replaceAll(",", ""),
        );
      }),
    ].join("\t"),
  );
  return [["Month", ...names].join("\t"), ...lines].join("\n");
}
