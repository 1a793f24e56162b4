import { useState } from "react";
import { useHousehold } from "@/shared/api/hooks";
import { dayText, money } from "@/shared/format";
import { Button } from "@/shared/kit/Button";
import { type ReadingRow, useForgetReading, useReadings } from "./useReadings";

const AT_FIRST = 3;

/** What the bank said before, and whether the books agree with it now. */
export function KeptReadings({ account, isDebt }: { account: string; isDebt: boolean }) {
  const today = useHousehold().data?.today;
  const { data } = useReadings(account);
  const forget = useForgetReading();
  const [isWhole, setWhole] = useState(false);
  if (!data || data.length === 0) return null;
  return (
    <>
      <ul aria-label="What the bank said before" className="mt-2 max-w-2xl text-sm">
        {(isWhole ? data : data.slice(0, AT_FIRST)).map((row) => (
          <li key={row.date} className="flex min-h-8 flex-wrap items-center gap-x-3 border-b border-rule">
            <span className="w-28 text-pencil">{dayText(row.date, today)}</span>
            <span className="w-28 text-right whitespace-nowrap">
              {money(isDebt ? -row.balance : row.balance, row.currency)}
            </span>
            <span className="min-w-40 flex-1">{standing(row, isDebt)}</span>
            <Button
              look="link"
              className="!min-h-8"
              aria-label={`Take away what the bank said on ${dayText(row.date, today)}`}
              disabled={forget.isPending}
              onClick={() => forget.mutate({ account, date: row.date })}
            >
              Take away
            </Button>
          </li>
        ))}
      </ul>
      {data.length > AT_FIRST && !isWhole && (
        <Button look="link" className="!min-h-8" onClick={() => setWhole(true)}>
          All {data.length}
        </Button>
      )}
    </>
  );
}

/** Whether the books agree with it. */
export function standing(row: ReadingRow, isDebt: boolean) {
  if (row.difference === 0) return <span className="text-pencil">the books agree</span>;
  const more = row.difference > 0 !== isDebt;
  return (
    <span className="text-rust">
      the books have {money(Math.abs(row.difference), row.currency)} too {more ? "little" : "much"}
    </span>
  );
}
