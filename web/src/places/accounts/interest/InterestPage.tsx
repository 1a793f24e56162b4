import { format } from "date-fns";
import { ChevronDown, ChevronRight } from "lucide-react";
import { useState } from "react";
import { useParams } from "react-router";
import { api, type Schemas, server } from "@/shared/api/client";
import { useAccounts, useAct, useHousehold } from "@/shared/api/hooks";
import { civil, money } from "@/shared/format";
import { Alert } from "@/shared/kit/Alert";
import { BackLink } from "@/shared/kit/BackLink";
import { Button } from "@/shared/kit/Button";
import { type Convention, off, Verdict } from "./Verdict";

type Months = Schemas["InterestMonths"];
type Month = Months["months"][number];
type Account = Schemas["Account"];

const YEAR = 12;

/** A savings account's interest, month by month: what the bank paid, and whether it is right. */
export function InterestPage() {
  const { id = "" } = useParams();
  const [count, setCount] = useState(YEAR);
  const account = useAccounts().data?.accounts.find((row) => row.account.id === id)?.account;
  const { data, error } = server.useQuery("get", "/api/accounts/{id}/interest", {
    params: { path: { id }, query: { months: count } },
  });
  return (
    <div className="mx-auto max-w-5xl px-4 py-4 md:px-6">
      <BackLink to={`/accounts/${encodeURIComponent(id)}`} name={account?.name ?? "Register"} />
      <h1 className="text-xl">The bank's interest</h1>
      <Alert error={error} />
      {data && account && (
        <>
          <p className="mb-2">{summary(data)}</p>
          <ol className="border-t border-rule-strong">
            {data.months.map((month) => (
              <MonthLine key={month.month} month={month} data={data} account={account} />
            ))}
          </ol>
          {data.months.length === count && (
            <Button look="link" onClick={() => setCount(count + YEAR)}>
              Earlier months
            </Button>
          )}
        </>
      )}
    </div>
  );
}

function summary({ months, credited, own, currency }: Months): string {
  if (months.length === 0) return "No interest is recorded here yet: it is looked at month by month as it is settled.";
  const span =
    months.length === 1 ? "In the last month with interest" : `In the last ${months.length} months with interest`;
  const paid = `${span} the bank paid ${money(credited, currency)}`;
  return credited === own
    ? `${paid}: as the account counts.`
    : `${paid}; as the account counts it is ${money(own, currency)}.`;
}

function MonthLine({ month, data, account }: { month: Month; data: Months; account: Account }) {
  const today = useHousehold().data?.today ?? "";
  const [isOpen, setOpen] = useState(false);
  const Mark = isOpen ? ChevronDown : ChevronRight;
  const keep = useAct((way: Convention) => {
    const { basis, compounding, movements_earn, rounding } = way;
    const savings = { ...account.savings, basis, compounding, movements_earn, rounding };
    return api.post("/api/changes", {
      body: { changes: [{ op: "update", kind: "account", id: account.id, value: { savings } }] },
    });
  });
  return (
    <li className="border-b border-rule py-1">
      <div className="flex flex-wrap items-center gap-x-4">
        <button
          type="button"
          aria-expanded={isOpen}
          className="flex min-h-9 w-44 items-center gap-1 text-left hover:underline"
          onClick={() => setOpen(!isOpen)}
        >
          <Mark size={16} aria-hidden className="text-pencil" />
          {format(civil(month.first), "MMMM yyyy")}
        </button>
        <span className="w-28 text-right whitespace-nowrap">{money(month.credited, data.currency)}</span>
        <span className="min-w-40 flex-1">
          {month.credited === month.own ? (
            <span className="text-pencil">as the account counts</span>
          ) : (
            <>
              {off(month.credited - month.own, data.currency)} than {money(month.own, data.currency)}, as the account
              counts
            </>
          )}
        </span>
      </div>
      {isOpen && (
        <Verdict
          check={month.check}
          currency={data.currency}
          today={today}
          own={data.own_way}
          onKeep={(way) => keep.mutate(way)}
        />
      )}
    </li>
  );
}
