import type { ChangeRequest } from "@/shared/api/client";
import { useHousehold } from "@/shared/api/hooks";
import { dayText, money } from "@/shared/format";
import { Button } from "@/shared/kit/Button";
import { type Asked, type ReadingCheck, useKeepReading } from "./useReadings";

interface Props {
  asked: Asked;
  check: ReadingCheck;
  isDebt: boolean;
  onDone: () => void;
}

/** It agrees; or the difference, with what would explain it, each with what it does to the lowest point. */
export function Explained({ asked, check, isDebt, onDone }: Props) {
  const keep = useKeepReading();
  const take = (changes: ChangeRequest[]) => keep.mutate({ ...asked, changes }, { onSuccess: onDone });
  if (check.difference === 0)
    return (
      <p className="mt-2 flex flex-wrap items-center gap-x-4" role="status">
        It agrees with the books.
        <Button look="main" className="!min-h-9" disabled={keep.isPending} onClick={() => take([])}>
          Write it down
        </Button>
      </p>
    );
  const off = money(Math.abs(check.difference), check.currency);
  const more = check.difference > 0 !== isDebt;
  return (
    <div className="mt-2">
      <p role="status">
        The books say {money(isDebt ? -check.books : check.books, check.currency)}:{" "}
        <strong className="text-rust">
          {off} {more ? "too little" : "too much"}
        </strong>
        .{" "}
        {check.causes.length === 0
          ? "No single slip of the last month explains it, nor two of them."
          : "What would explain it:"}
      </p>
      <ul aria-label="What would explain it">
        {check.causes.map((cause) => (
          <li key={cause.sentence} className="flex flex-wrap items-center gap-x-4 border-b border-rule py-1.5">
            <span className="min-w-60 flex-1">
              {cause.sentence}
              <Lowest check={check} after={cause.lowest} />
            </span>
            <Button
              className="!min-h-9"
              aria-label={`So it was: ${cause.sentence}`}
              disabled={keep.isPending}
              onClick={() => take(cause.changes)}
            >
              So it was
            </Button>
          </li>
        ))}
      </ul>
      <p className="mt-2 flex flex-wrap gap-x-2 gap-y-1">
        <Button className="!min-h-9" disabled={keep.isPending} onClick={() => take(check.adjustment)}>
          Book the difference
        </Button>
        <Button look="link" className="!min-h-9" disabled={keep.isPending} onClick={() => take([])}>
          Leave it for later
        </Button>
      </p>
    </div>
  );
}

/** What becomes of the account's lowest point of the year, where it moves. */
function Lowest({ check, after }: { check: ReadingCheck; after: ReadingCheck["lowest"] }) {
  const today = useHousehold().data?.today;
  const before = check.lowest;
  if (!after || !before || (before.balance === after.balance && before.date === after.date)) return null;
  return (
    <span className="block text-sm text-pencil">
      Its lowest in a year is then {money(after.balance, check.currency)} on {dayText(after.date, today)}, not{" "}
      {money(before.balance, check.currency)} on {dayText(before.date, today)}.
    </span>
  );
}
