import { keepPreviousData } from "@tanstack/react-query";
import { type Schemas, server } from "@/shared/api/client";
import { useAccounts } from "@/shared/api/hooks";
import { AsCsv } from "@/shared/csv/AsCsv";
import { exportQuery } from "@/shared/csv/exportQuery";
import { PageLink } from "@/shared/kit/PageLink";
import { useView } from "@/shared/view";
import { Beside } from "./Beside";
import { Different } from "./Different";
import { ByAccount, Largest, Payees } from "./Payees";
import { Proposals, useProposals } from "./Proposals";
import { StretchChoice } from "./StretchChoice";
import { useStretch } from "./useStretch";
import { Where } from "./Where";
import { useNoticed, WorthALook } from "./WorthALook";

const MORE = [
  ["/review/months", "Months of categories"],
  ["/review/year", "The end of the year"],
  ["/review/goals", "Goals"],
  ["/review/subscriptions", "Subscriptions"],
  ["/review/changes", "What changed"],
  ["/review/tags", "What was tagged for the tax return"],
  ["/debts/years", "Interest and property tax by year"],
  ["/debts/whole", "Loan payments recorded whole"],
  ["/debts/properties", "Properties"],
] as const;

/** What happened in a stretch of days against what was expected of it. */
export function Review() {
  const stretch = useStretch();
  const chosen = useView().accounts;
  const accounts = chosen.join(",");
  const names = new Map(useAccounts().data?.accounts.map(({ account }) => [account.id, account.name]));
  const query = stretch.days && { ...stretch.days, ...(accounts && { accounts }) };
  const review = server.useQuery(
    "get",
    "/api/review",
    { params: { query: query ?? { from: "", to: "" } } },
    { enabled: Boolean(query), retry: false, placeholderData: keepPreviousData },
  );
  const problem = review.error ?? stretch.error;
  // What is worth a look stands among the rest: nothing moves once it is there.
  const isAwaited = [useNoticed(), useProposals()].some(({ isLoading }) => isLoading);
  const data = isAwaited ? undefined : review.data;
  return (
    <div className="mx-auto max-w-6xl px-4 py-4 md:px-6">
      <StretchChoice stretch={stretch} name={data?.name ?? "Review"} />
      {problem && <p role="alert">{problem.message}</p>}
      {data && !problem && (
        <>
          <p className="max-w-prose text-lg">{data.sentence}</p>
          <p className="flex flex-wrap items-center gap-x-4 text-sm text-pencil">
            {ofWhich(chosen, names)}
            <a
              href={`/api/review/workbook.xlsx?${exportQuery(query || {})}`}
              download
              className="inline-flex min-h-9 items-center text-copper underline underline-offset-4"
            >
              As a workbook
            </a>
            <PayeesAsCsv data={data} />
          </p>
          <Where data={data} isIncome={false} accounts={accounts} />
          <Where data={data} isIncome accounts={accounts} />
          <Different data={data} />
          <WorthALook />
          <Proposals />
          <Beside data={data} />
          <Largest data={data} />
          <Payees data={data} />
          <ByAccount data={data} />
        </>
      )}
      {(data || problem) && <More />}
    </div>
  );
}

function More() {
  return (
    <>
      <h2 className="mt-6 mb-1 text-lg">More to look back on</h2>
      <ul className="flex flex-wrap gap-x-4">
        {MORE.map(([to, name]) => (
          <li key={to}>
            <PageLink to={to}>{name}</PageLink>
          </li>
        ))}
      </ul>
    </>
  );
}

/** With whom the money was spent, as a table. */
function PayeesAsCsv({ data }: { data: Schemas["ReviewAnswer"] }) {
  return (
    <AsCsv
      name={`payees-${data.from}-${data.to}`}
      of="payees"
      label="Payees as a table"
      headings={["payee", "entries", "spent", "currency"]}
      rows={() =>
        data.payees.map(({ payee, entries, spent }) => [
          payee,
          String(entries),
          { amount: spent, currency: data.currency },
          data.currency,
        ])
      }
    />
  );
}

/** Whose sums they are: of the accounts chosen in the tideline, else of all. */
const ofWhich = (chosen: string[], names: Map<string, string>) =>
  chosen.length === 0 ? "Of all accounts." : `Of ${chosen.map((id) => names.get(id) ?? id).join(", ")} alone.`;
