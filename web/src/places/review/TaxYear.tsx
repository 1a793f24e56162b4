import { useSearchParams } from "react-router";
import { type Schemas, server } from "@/shared/api/client";
import { dayText, digits, money } from "@/shared/format";
import { Alert } from "@/shared/kit/Alert";
import { BackLink } from "@/shared/kit/BackLink";
import { Select } from "@/shared/kit/fields/Select";
import { PaperPage } from "@/shared/look/paper";
import { useView } from "@/shared/view";

type Answer = Schemas["TaxYearAnswer"];
type Tag = Schemas["TagModel"];

function useTaxYear() {
  const [search] = useSearchParams();
  const text = search.get("year") ?? "";
  const year = /^\d{4}$/.test(text) ? Number(text) : undefined;
  return server.useQuery("get", "/api/review/tax-year", { params: { query: year === undefined ? {} : { year } } });
}

/** What was tagged in a calendar year, with its sums and receipts. */
export function TaxYear() {
  const { set } = useView();
  const { data, error } = useTaxYear();
  const link = "inline-flex min-h-10 items-center rounded-sm px-2 text-copper hover:bg-hover";
  return (
    <div className="mx-auto max-w-6xl px-4 py-4 md:px-6">
      <BackLink to="/review" name="Review" />
      <div className="mb-3 flex flex-wrap items-center gap-x-3 gap-y-1">
        <h1 className="text-xl">The tax year</h1>
        {data && (
          <Select
            label="Year"
            value={String(data.year)}
            onChange={(year) => set({ year })}
            options={data.years.map((year) => ({ value: String(year), label: String(year) }))}
            className="field !w-28"
          />
        )}
        {data && data.tags.length > 0 && (
          <>
            <a className={link} href={`/print/tax-year?year=${data.year}`} target="_blank" rel="noreferrer">
              On one page
            </a>
            <a className={link} href={`/api/review/tax-year.xlsx?year=${data.year}`} download>
              As a workbook
            </a>
          </>
        )}
      </div>
      <Alert error={error} />
      {data && data.tags.length === 0 && (
        <p className="max-w-prose text-pencil">
          Nothing is tagged in {data.year}. Give an entry a tag in its slip, such as “medical” or “donation”, and it
          stands here with its receipt when the return is due.
        </p>
      )}
      {data?.tags.map((tag) => (
        <TagTable key={tag.tag} tag={tag} data={data} />
      ))}
    </div>
  );
}

function TagTable({ tag, data, onPaper = false }: { tag: Tag; data: Answer; onPaper?: boolean }) {
  const { openSlip } = useView();
  return (
    <table className={`mb-5 w-full border-collapse ${onPaper ? "break-inside-avoid text-sm" : ""}`}>
      <caption className="pb-1 text-left font-semibold">{tag.tag}</caption>
      <thead className="sr-only">
        <tr>
          <th>Day</th>
          <th>Payee</th>
          <th>Receipt</th>
          <th>Amount</th>
        </tr>
      </thead>
      <tbody>
        {tag.entries.map((entry) => (
          <tr key={entry.id} className="border-t border-rule">
            <td className="py-1 pr-3 whitespace-nowrap md:w-36">{dayText(entry.date, `${data.year}-01-01`)}</td>
            <td className="pr-3 break-words">
              {onPaper ? (
                `${entry.payee}${entry.notes ? `, ${entry.notes}` : ""}`
              ) : (
                <button type="button" className="text-left hover:underline" onClick={() => openSlip("entry", entry.id)}>
                  {entry.payee || "No payee"}
                  {entry.notes && <span className="ml-2 text-sm text-pencil">{entry.notes}</span>}
                </button>
              )}
            </td>
            <td className="pr-3 text-sm break-words">
              {entry.receipt && (
                <a
                  href={`/api/receipts/${entry.receipt}`}
                  target="_blank"
                  rel="noreferrer"
                  className="text-copper underline"
                >
                  {entry.receipt_name}
                </a>
              )}
            </td>
            <td className="text-right whitespace-nowrap md:w-32">
              {entry.currency === data.currency
                ? digits(entry.amount, entry.currency)
                : money(entry.amount, entry.currency)}
            </td>
          </tr>
        ))}
      </tbody>
      <tfoot>
        <tr className="border-t border-rule-strong font-semibold">
          <td colSpan={3} className="py-1">
            Together
          </td>
          <td className="text-right whitespace-nowrap">{money(tag.total, data.currency)}</td>
        </tr>
      </tfoot>
    </table>
  );
}

/** The tax year on paper. */
export function PrintTaxYear() {
  const { data, error } = useTaxYear();
  return (
    <PaperPage title={`Tagged in ${data?.year}`} error={error}>
      {data ? () => data.tags.map((tag) => <TagTable key={tag.tag} tag={tag} data={data} onPaper />) : null}
    </PaperPage>
  );
}
