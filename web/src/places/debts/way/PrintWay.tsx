import { Fragment } from "react";
import { useSearchParams } from "react-router";
import { type Schemas, server } from "@/shared/api/client";
import { useHousehold } from "@/shared/api/hooks";
import { digits, money, monthOf, setWriting } from "@/shared/format";
import { Wide } from "@/shared/kit/Wide";
import { PaperHeading, useOnPaper } from "@/shared/look/paper";
import { type Asked, ORDER_NAMES, PLAIN_ASKED, readAsked, useProgress } from "./wayOut";

/** The plan on one lying page. */
export function PrintWay() {
  const [search] = useSearchParams();
  const household = useHousehold().data;
  const { data: page, error } = usePrinted(readAsked(search.get("asked")) ?? PLAIN_ASKED);
  useOnPaper();
  if (error) return <p className="p-6">{error.message}</p>;
  if (!household || !page) return null;
  setWriting(household);
  if (page.debts.length === 0)
    return (
      <main className="mx-auto max-w-5xl p-6">
        <PaperHeading title="The way out of debt" />
        <p>Nothing is owed that could be paid off.</p>
      </main>
    );
  return (
    <main className="mx-auto max-w-5xl p-6 print:p-0">
      <PaperHeading title="The way out of debt" />
      <p className="mb-2">
        {ORDER_NAMES[page.strategy]}, {money(page.extra_monthly, page.currency)} extra each month from{" "}
        {monthOf(page.start)} on; {page.debt_free ? `debt-free in ${monthOf(page.debt_free)}` : "never debt-free"};{" "}
        {money(page.total_interest, page.currency)} interest in all.{" "}
        {page.months_a_line > 1 &&
          `Each line is ${page.months_a_line} months: what is paid in them, and what is then owed.`}
      </p>
      <Wide label="The way out, scrolled sideways" className="print:overflow-visible">
        <table className="w-full border-collapse text-right text-xs leading-tight">
          <thead className="table-header-group">
            <tr className="border-b border-rule-strong [&>th]:py-0.5 [&>th]:font-semibold">
              <th className="text-left">Until</th>
              {page.debts.map((name) => (
                <th key={name} colSpan={2}>
                  {name}
                </th>
              ))}
              <th>Owed then</th>
            </tr>
          </thead>
          <tbody>
            {page.lines.map((line) => (
              <PrintedLine key={line.until} line={line} currency={page.currency} />
            ))}
          </tbody>
        </table>
      </Wide>
    </main>
  );
}

function PrintedLine({ line, currency }: { line: Schemas["PrintedLine"]; currency: string }) {
  return (
    <tr className="break-inside-avoid border-b border-rule">
      <td className="text-left">{monthOf(line.until)}</td>
      {line.paid.map((paid, debt) => {
        const owed = line.owed[debt] ?? 0;
        return (
          // biome-ignore lint/suspicious/noArrayIndexKey: the debts stand in the same order in every line
          <Fragment key={debt}>
            <td>{paid ? digits(paid, currency) : ""}</td>
            <td className="pr-2">{owed ? digits(owed, currency) : paid ? "clear" : ""}</td>
          </Fragment>
        );
      })}
      <td>{digits(line.sum, currency)}</td>
    </tr>
  );
}

function usePrinted(asked: Asked) {
  return server.useQuery("post", "/api/payoff/printed", { body: asked }, { retry: false });
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
