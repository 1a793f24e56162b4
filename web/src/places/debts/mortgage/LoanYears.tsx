import { Printer } from "lucide-react";
import { useSearchParams } from "react-router";
import { type Schemas, server } from "@/shared/api/client";
import { dayText, digits, money } from "@/shared/format";
import { Alert } from "@/shared/kit/Alert";
import { BackLink } from "@/shared/kit/BackLink";
import { Select } from "@/shared/kit/fields/Select";
import { PaperPage } from "@/shared/look/paper";
import { useView } from "@/shared/view";
import { ITEM_NAMES } from "./items";

type Year = Schemas["YearAnswer"];

function useYear(): { data: Year | undefined; error: Error | null; choose: (year: string) => void } {
  const [search] = useSearchParams();
  const { set } = useView();
  const text = search.get("year") ?? "";
  const year = /^\d{4}$/.test(text) ? Number(text) : null;
  const { data, error } = server.useQuery("get", "/api/review/year", { params: { query: year ? { year } : {} } });
  return { data, error, choose: (next) => set({ year: next }) };
}

/** Interest and property tax of a calendar year, as the tax return wants them. */
export function LoanYears() {
  const { data, error, choose } = useYear();
  return (
    <div className="mx-auto max-w-6xl px-4 py-4 md:px-6">
      <BackLink to="/debts" name="Debts" />
      <Alert error={error} />
      {data && (
        <>
          <div className="flex flex-wrap items-center gap-x-4 gap-y-2">
            <h1 className="text-xl">Interest and property tax</h1>
            <Select
              label="Year"
              value={String(data.year)}
              onChange={choose}
              options={yearsOf(data).map((year) => ({ value: String(year), label: String(year) }))}
              className="field !w-28"
            />
            <a
              href={`/print/loan-years?year=${data.year}`}
              target="_blank"
              rel="noreferrer"
              className="ml-auto inline-flex min-h-9 items-center gap-1.5 rounded-sm px-2 text-copper hover:bg-hover"
            >
              <Printer size={16} aria-hidden /> Print
            </a>
          </div>
          <p className="mt-1 text-pencil">As paid in the year, on the day it was paid; in pencil what is expected.</p>
          <Sheet data={data} />
        </>
      )}
    </div>
  );
}

/** The same on paper. */
export function PrintLoanYears() {
  const { data, error } = useYear();
  return (
    <PaperPage title={`Interest and property tax, ${data?.year}`} error={error} className="mx-auto max-w-4xl">
      {data ? () => <Sheet data={data} /> : null}
    </PaperPage>
  );
}

const yearsOf = (data: Year): number[] => [...new Set([...data.years, data.year])].sort((one, other) => other - one);

function Sheet({ data }: { data: Year }) {
  if (data.loans.length === 0 && data.properties.length === 0)
    return <p className="py-4 text-lg">Nothing was paid on a loan or a property in {data.year}.</p>;
  return (
    <>
      {data.loans.map((loan) => (
        <LoanSums key={loan.id} loan={loan} />
      ))}
      {data.properties.map((property) => (
        <PropertySums key={property.id} property={property} />
      ))}
    </>
  );
}

function LoanSums({ loan }: { loan: Year["loans"][number] }) {
  const { currency } = loan;
  const hasEscrow = loan.parts.escrow !== 0;
  const hasMore = loan.parts.insurance + loan.parts.fee !== 0;
  const isPaid = loan.expected === null || loan.lines.length > 0 || loan.interest_before !== 0;
  return (
    <section aria-label={loan.name} className="mt-6">
      <h2 className="border-b border-rule-strong text-lg">{loan.name}</h2>
      {isPaid && (
        <p className="mt-1">
          <strong>{money(loan.parts.interest, currency)}</strong> interest{loan.expected ? " paid" : ""}
          {loan.lenders.length > 1 &&
            ` (${loan.lenders.map((oneLender) => `${money(oneLender.parts.interest, currency)} to ${oneLender.name}`).join(", ")})`}
          {loan.interest_before !== 0 && `, of it ${money(loan.interest_before, currency)} before it was kept here`}
          {loan.property_tax_before !== 0 &&
            `, ${money(loan.property_tax_before, currency)} property tax before it was kept here`}
          {hasMore && `, ${money(loan.parts.insurance, currency)} mortgage insurance`}
          {loan.began && `; borrowed on ${dayText(loan.began, "")}`}
          {loan.ended && `; paid off on ${dayText(loan.ended, "")}`}.
        </p>
      )}
      {loan.expected && <Expected expected={loan.expected} paid={loan.parts.interest} currency={currency} />}
      <details className="print:open" hidden={loan.lines.length === 0}>
        <summary className="min-h-9 cursor-pointer text-copper">
          {loan.lines.length === 1 ? "The payment behind it" : `The ${loan.lines.length} payments behind it`}
        </summary>
        <table className="w-full max-w-4xl border-collapse text-right">
          <thead>
            <tr className="text-sm text-pencil [&>th]:py-1 [&>th]:font-normal">
              <th className="text-left">Paid on</th>
              <th className="hidden text-left @2xl:table-cell">To</th>
              <th>Interest</th>
              <th>Principal</th>
              {hasEscrow && <th>Escrow</th>}
            </tr>
          </thead>
          <tbody>
            {loan.lines.map((line) => (
              <tr key={line.entry} className="border-t border-rule">
                <td className="py-0.5 text-left">{dayText(line.date)}</td>
                <td className="hidden text-left @2xl:table-cell">{line.lender}</td>
                <td>{digits(line.parts.interest, currency)}</td>
                <td>{digits(line.parts.principal, currency)}</td>
                {hasEscrow && <td>{digits(line.parts.escrow, currency)}</td>}
              </tr>
            ))}
          </tbody>
        </table>
      </details>
    </section>
  );
}

interface ExpectedProps {
  expected: NonNullable<Year["loans"][number]["expected"]>;
  paid: number;
  currency: string;
}

/** The interest of a year that has not ended: what is still to be paid in it, and what runs up in it by days. */
function Expected({ expected, paid, currency }: ExpectedProps) {
  return (
    <p className="pencilled">
      {money(expected.to_come, currency)} {paid !== 0 ? "still" : "interest"} to be paid in the year
      {paid !== 0 && `, ${money(paid + expected.to_come, currency)} in all`}; by days {money(expected.run_up, currency)}{" "}
      runs up in it.
    </p>
  );
}

function PropertySums({ property }: { property: Year["properties"][number] }) {
  const { currency, sums } = property;
  const items = ITEM_NAMES.filter(({ item }) => sums[item] !== 0);
  return (
    <section aria-label={property.name} className="mt-6">
      <h2 className="border-b border-rule-strong text-lg">{property.name}</h2>
      <p className="mt-1">
        {items.map(({ item, name }, place) => (
          <span key={item}>
            {place > 0 && ", "}
            <strong>{money(sums[item] ?? 0, currency)}</strong> {name.toLowerCase()}
          </span>
        ))}
        .
      </p>
      <details>
        <summary className="min-h-9 cursor-pointer text-copper">What is behind it</summary>
        <table className="w-full max-w-4xl border-collapse text-right">
          <tbody>
            {property.lines.map((line) => (
              <tr key={`${line.entry}/${line.item}`} className="border-t border-rule">
                <td className="py-0.5 text-left">{dayText(line.date)}</td>
                <td className="text-left">{line.payee}</td>
                <td className="text-left">{ITEM_NAMES.find((named) => named.item === line.item)?.name}</td>
                <td>{digits(line.amount, currency)}</td>
              </tr>
            ))}
          </tbody>
        </table>
      </details>
    </section>
  );
}
