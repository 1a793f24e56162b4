import { useSearchParams } from "react-router";
import { useHousehold } from "@/shared/api/hooks";
import { digits, money, monthOf, setWriting } from "@/shared/format";
import { Wide } from "@/shared/kit/Wide";
import { PaperHeading, useOnPaper } from "@/shared/look/paper";
import { type Asked, ORDER_NAMES, PLAIN_ASKED, readAsked, useProgress, useWay, type Way } from "./wayOut";

/** More lines than this do not fit one lying page: months are then taken together. */
const MOST_LINES = 40;

/** The plan on one lying page. */
export function PrintWay() {
  const [search] = useSearchParams();
  const household = useHousehold().data;
  const asked: Asked = readAsked(search.get("asked")) ?? PLAIN_ASKED;
  const { data, error } = useWay(asked, 0);
  const way = data?.way;
  useOnPaper();
  if (error) return <p className="p-6">{error.message}</p>;
  if (!household || !way) return null;
  setWriting(household);
  const step = [1, 3, 6, 12, 24].find((monthsApart) => way.months.length / monthsApart <= MOST_LINES) ?? 60;
  const lines = Array.from({ length: Math.ceil(way.months.length / step) }, (_, place) =>
    way.months.slice(place * step, (place + 1) * step),
  );
  return (
    <main className="mx-auto max-w-5xl p-6 print:p-0">
      <PaperHeading title="The way out of debt" />
      <p className="mb-2">
        {ORDER_NAMES[way.strategy]}, {money(asked.extra_monthly ?? 0, way.currency)} extra each month from{" "}
        {monthOf(way.start)} on; {way.debt_free ? `debt-free in ${monthOf(way.debt_free)}` : "never debt-free"};{" "}
        {money(way.total_interest, way.currency)} interest in all.{" "}
        {step > 1 && `Each line is ${step} months: what is paid in them, and what is then owed.`}
      </p>
      <Wide label="The way out, scrolled sideways" className="print:overflow-visible">
        <table className="w-full border-collapse text-right text-xs leading-tight">
          <thead className="table-header-group">
            <tr className="border-b border-rule-strong [&>th]:py-0.5 [&>th]:font-semibold">
              <th className="text-left">Until</th>
              {way.debts.map((debt) => (
                <th key={debt.id} colSpan={2}>
                  {debt.name}
                </th>
              ))}
              <th>Owed then</th>
            </tr>
          </thead>
          <tbody>
            {lines.map((months) => (
              <PrintedLine key={months[0]?.month} months={months} way={way} />
            ))}
          </tbody>
        </table>
      </Wide>
    </main>
  );
}

function PrintedLine({ months, way }: { months: Way["months"]; way: Way }) {
  const last = months.at(-1);
  const owed = way.debts.reduce((sum, debt) => sum + (last?.debts[debt.id]?.closing ?? 0), 0);
  return (
    <tr className="break-inside-avoid border-b border-rule">
      <td className="text-left">{monthOf(last?.month ?? way.start)}</td>
      {way.debts.map((debt) => {
        const paid = months.reduce((sum, month) => {
          const cell = month.debts[debt.id];
          return sum + (cell ? cell.minimum + cell.extra : 0);
        }, 0);
        const left = last?.debts[debt.id]?.closing ?? 0;
        return [
          <td key={`${debt.id} paid`}>{paid ? digits(paid, way.currency) : ""}</td>,
          <td key={`${debt.id} owed`} className="pr-2">
            {left ? digits(left, way.currency) : paid ? "clear" : ""}
          </td>,
        ];
      })}
      <td>{digits(owed, way.currency)}</td>
    </tr>
  );
}

/** Each year's payments on record, debt by debt, on one page. */
export function PrintDebtYears() {
  const household = useHousehold().data;
  const record = useProgress().data;
  useOnPaper();
  if (!household || !record) return null;
  setWriting(household);
  return (
    <main className="mx-auto max-w-5xl p-4 md:p-6 print:p-0">
      <PaperHeading title="Payments on record, year by year" />
      {record.on_record.length === 0 && <p>No debt is on record.</p>}
      <div className="gap-8 md:columns-2 print:columns-2">
        {record.on_record.map((debt) => (
          <table key={debt.id} className="mb-4 w-full break-inside-avoid border-collapse text-right text-sm">
            <caption className="text-left font-semibold">{debt.name}</caption>
            <thead>
              <tr className="border-b border-rule-strong [&>th]:font-normal">
                <th className="text-left">Year</th>
                <th>Paid</th>
                <th>of it interest</th>
                <th>Owed at its end</th>
              </tr>
            </thead>
            <tbody>
              {debt.years.map((year) => (
                <tr key={year.year} className="border-b border-rule">
                  <td className="text-left">{year.year}</td>
                  <td>{digits(year.paid, debt.currency)}</td>
                  <td>{digits(year.interest, debt.currency)}</td>
                  <td>{digits(year.owed, debt.currency)}</td>
                </tr>
              ))}
            </tbody>
          </table>
        ))}
      </div>
    </main>
  );
}
