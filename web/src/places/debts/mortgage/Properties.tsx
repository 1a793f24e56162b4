import { type Schemas, server } from "@/shared/api/client";
import { digits, money } from "@/shared/format";
import { Alert } from "@/shared/kit/Alert";
import { BackLink } from "@/shared/kit/BackLink";
import { Button } from "@/shared/kit/Button";
import { PageLink } from "@/shared/kit/PageLink";
import { Wide } from "@/shared/kit/Wide";
import { useView } from "@/shared/view";
import { ITEM_NAMES } from "./items";

type Property = Schemas["PropertyModel"];

/** What each property is worth, what is owed on it, and what it brings and costs. */
export function Properties() {
  const { data, error } = server.useQuery("get", "/api/review/properties");
  return (
    <div className="mx-auto max-w-6xl px-4 py-4 md:px-6">
      <BackLink to="/debts" name="Debts" />
      <h1 className="text-xl">Properties</h1>
      <Alert error={error} />
      {data?.properties.length === 0 && (
        <p className="py-4 text-lg">
          No property yet. Add an account “House, boat and the like” for it, and name it in the terms of its loan and in
          the bills and rent that belong to it.
        </p>
      )}
      {data?.properties.map((oneProperty) => (
        <PropertySection key={oneProperty.id} property={oneProperty} />
      ))}
    </div>
  );
}

function PropertySection({ property }: { property: Property }) {
  const { openSlip } = useView();
  const { currency } = property;
  const items = ITEM_NAMES.filter(
    ({ item }) => property.ahead[item] !== 0 || property.years.some((year) => year.sums[item] !== 0),
  );
  const columns = [...property.years.map((year) => ({ name: String(year.year), sums: year.sums, isAhead: false }))]
    .slice(0, 3)
    .reverse()
    .concat({ name: "Next 12 months", sums: property.ahead, isAhead: true });
  return (
    <section aria-label={property.name} className="mt-5">
      <div className="flex flex-wrap items-center gap-x-3 border-b border-rule-strong">
        <h2 className="text-lg">{property.name}</h2>
        {property.worth !== null && (
          <Button look="link" onClick={() => openSlip("account", property.id)}>
            Its value
          </Button>
        )}
        {property.loans.map((loan) => (
          <PageLink key={loan} to={`/debts/${encodeURIComponent(loan)}`}>
            Its loan
          </PageLink>
        ))}
      </div>
      <p className="mt-1">
        {property.worth !== null && (
          <>
            Worth {money(property.worth, currency)}, less {money(property.owed, currency)} owed:{" "}
            <strong>{money(property.worth - property.owed, currency)}</strong>.{" "}
          </>
        )}
        {property.worth === null && <>{money(property.owed, currency)} owed. </>}
        {property.escrows.length > 0 && `${money(property.escrow, currency)} in escrow.`}
      </p>
      <Wide label="Income and costs, scrolled sideways">
        <table className="mt-2 w-full max-w-4xl border-collapse text-right">
          <thead>
            <tr className="text-sm text-pencil [&>th]:py-1 [&>th]:font-normal">
              <th className="text-left">Income and costs</th>
              {columns.map((column) => (
                <th key={column.name} className="pl-4">
                  {column.name}
                </th>
              ))}
            </tr>
          </thead>
          <tbody>
            {items.map(({ item, name }) => (
              <tr key={item} className="border-t border-rule">
                <td className="py-1 text-left">{name}</td>
                {columns.map((column) => (
                  <td key={column.name} className={`pl-4 ${column.isAhead ? "pencilled" : ""}`}>
                    {column.sums[item]
                      ? `${item === "rent" ? "+" : "−"}${digits(column.sums[item] ?? 0, currency)}`
                      : ""}
                  </td>
                ))}
              </tr>
            ))}
          </tbody>
          <tfoot>
            <tr className="border-t border-rule-strong font-semibold">
              <td className="py-1 text-left">Together</td>
              {columns.map((column) => (
                <td key={column.name} className={`pl-4 ${column.isAhead ? "pencilled" : ""}`}>
                  {digits(column.sums.net, currency)}
                </td>
              ))}
            </tr>
          </tfoot>
        </table>
      </Wide>
    </section>
  );
}
