import { format, lastDayOfMonth } from "date-fns";
import { Link } from "react-router";
import type { Schemas } from "@/shared/api/client";
import { civil, iso } from "@/shared/format";
import { keptSearch, useView } from "@/shared/view";

export type Months = Schemas["ReviewMonths"];

/** The last day of a month such as 2027-02. */
export const lastOf = (month: string) => iso(lastDayOfMonth(civil(`${month}-01`)));

/** The names of the columns. */
export function MonthsHead({ data, isPaper }: { data: Months; isPaper: boolean }) {
  const [year, before] = [data.so_far.from.slice(0, 4), data.year_ago.from.slice(0, 4)];
  const isWhole = data.so_far.to.endsWith("-12-31");
  return (
    <thead>
      <tr className="border-b border-rule-strong align-middle text-pencil [&>th]:px-1.5 [&>th]:py-1 [&>th]:font-normal">
        <th scope="col" className="sticky left-0 bg-paper !pl-0 text-left">
          Category
        </th>
        <td />
        {data.months.map(({ month }) => (
          <th scope="col" key={month}>
            {isPaper ? format(civil(`${month}-01`), "MMM yy") : <MonthLink month={month} />}
          </th>
        ))}
        <th scope="col">Together</th>
        <th scope="col">{isWhole ? year : `${year} so far`}</th>
        <th scope="col">{isWhole ? before : `${before}, same days`}</th>
      </tr>
    </thead>
  );
}

/** A month's name, which leads to its review. */
function MonthLink({ month }: { month: string }) {
  const { search } = useView();
  const day = `${month}-01`;
  const asked = new URLSearchParams(keptSearch(search));
  for (const name of ["from", "until"]) asked.delete(name);
  asked.set("on", day);
  return (
    <Link
      to={{ pathname: "/review", search: asked.toString() }}
      className="inline-flex min-h-8 items-center whitespace-nowrap underline-offset-4 hover:underline"
      title={`Review ${format(civil(day), "MMMM yyyy")}`}
    >
      {format(civil(day), "MMM yy")}
    </Link>
  );
}
