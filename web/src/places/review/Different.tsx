import { useState } from "react";
import type { Schemas } from "@/shared/api/client";
import { useAccounts } from "@/shared/api/hooks";
import { dayText, money } from "@/shared/format";
import { Button } from "@/shared/kit/Button";
import { useView } from "@/shared/view";

type Answer = Schemas["ReviewAnswer"];
type Occurrence = Schemas["ReviewOccurrence"];

const STATUS: Record<Occurrence["status"], string> = {
  settled: "was paid",
  assumed: "is taken as paid",
  left_out: "left out",
  past_due: "past due",
  not_paid: "not paid",
  expected: "still expected",
};

const AT_FIRST = 10;

const isDifferent = (each: Occurrence) =>
  each.status !== "expected" && (each.expected !== each.actual || each.days.some((day) => day !== each.lands));

/** What did not go as expected, occurrence by occurrence: another sum, another day, not paid, left out. */
export function Different({ data }: { data: Answer }) {
  const { openSlip } = useView();
  const [isWhole, setIsWhole] = useState(false);
  const accounts = new Map(useAccounts().data?.accounts.map(({ account }) => [account.id, account.currency]));
  const different = data.occurrences
    .filter(isDifferent)
    .sort((one, other) => Math.abs(other.actual - other.expected) - Math.abs(one.actual - one.expected));
  if (data.occurrences.length === 0) return null;
  return (
    <section aria-label="What was different" className="mt-6">
      <h2 className="mb-1 text-lg">What was different</h2>
      {different.length === 0 && <p className="text-pencil">All that was due went as expected.</p>}
      <ul>
        {(isWhole ? different : different.slice(0, AT_FIRST)).map((each) => (
          <li key={`${each.flow} ${each.nominal}`} className="flex flex-wrap gap-x-3 border-b border-rule py-1">
            <button
              type="button"
              className="min-w-52 text-left hover:underline"
              onClick={() => openSlip("flow", each.flow)}
            >
              {each.name}
            </button>
            <span className="w-28 text-pencil">{dayText(each.lands, data.today)}</span>
            <span className="min-w-0 grow">{told(each, accounts.get(each.account) ?? data.currency, data.today)}</span>
          </li>
        ))}
      </ul>
      {different.length > AT_FIRST && !isWhole && (
        <Button look="link" onClick={() => setIsWhole(true)}>
          All {different.length} differences
        </Button>
      )}
    </section>
  );
}

/** What became of it, in words. */
function told(each: Occurrence, currency: string, today: string): string {
  const expected = money(Math.abs(each.expected), currency);
  if (each.days.length === 0) return `${STATUS[each.status]}; ${expected} was expected`;
  const day = each.days.at(-1) ?? each.lands;
  const on = day === each.lands ? "" : ` on ${dayText(day, today)}`;
  const sum = each.actual === each.expected ? "" : `, ${expected} was expected`;
  const did = each.status === "settled" && each.actual > 0 ? "came in" : STATUS[each.status];
  return `${money(Math.abs(each.actual), currency)} ${did}${on}${sum}`;
}
