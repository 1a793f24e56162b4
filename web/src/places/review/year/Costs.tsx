import { server } from "@/shared/api/client";
import { dayText, money } from "@/shared/format";
import { Sums } from "./Sums";

/** What a year's costs are told from: what was paid on what is owned, and what was tagged. */
export function useCosts(year: number | undefined) {
  const asked = [{ params: { query: { year } } }, { enabled: year !== undefined, retry: false }] as const;
  const loans = server.useQuery("get", "/api/review/year", ...asked);
  const tagged = server.useQuery("get", "/api/review/tax-year", ...asked);
  return { loans: loans.data, tagged: tagged.data, isPending: loans.isPending || tagged.isPending };
}

/** Property tax and insurance of what is owned, and what was tagged, with its receipts. */
export function Costs({ year }: { year: number }) {
  const { loans, tagged } = useCosts(year);
  return (
    <>
      <Sums
        title="Property tax and insurance"
        columns={["Property", "Property tax", "Insurance"]}
        rows={(loans?.properties ?? []).map(({ id, name, currency, sums }) => ({
          key: id,
          cells: [name, money(sums.tax ?? 0, currency), money(sums.insurance ?? 0, currency)],
        }))}
      />
      {tagged?.tags.map((tag) => (
        <Sums
          key={tag.tag}
          title={`Tagged “${tag.tag}”`}
          columns={["Entry", "Receipt", "Amount"]}
          rows={tag.entries.map((entry) => ({
            key: entry.id,
            cells: [
              `${dayText(entry.date, `${year}-01-01`)} ${entry.payee}`,
              entry.receipt_name ?? "",
              money(entry.amount, entry.currency),
            ],
          }))}
          total={["Together", "", money(tag.total, tagged.currency)]}
        />
      ))}
    </>
  );
}
