import type { Schemas } from "@/shared/api/client";
import { dayText, digits } from "@/shared/format";
import { AccountName, GRID } from "./DayLine";

interface Props {
  uncounted: Schemas["AheadAnswer"]["uncounted"][number];
  isNewDay: boolean;
  today: string;
  currency: string;
  showAccount: boolean;
}

/** What may come back of money lent, told on its day, and in no balance. */
export function UncountedLine({ uncounted, isNewDay, today, currency, showAccount }: Props) {
  const day = uncounted.date === today ? "Today" : dayText(uncounted.date, today);
  return (
    <div className={isNewDay ? "border-t border-rule" : ""}>
      <p className={`${GRID} w-full items-center py-1 text-pencil`}>
        <span className={`whitespace-nowrap ${isNewDay ? "" : "sr-only @2xl:not-sr-only @2xl:invisible"}`}>{day}</span>
        <span className="pencilled col-start-2 min-w-0 break-words">
          {uncounted.name}
          {showAccount && <AccountName id={uncounted.account} />}
          {uncounted.is_late && (
            <span className="ml-2 text-sm not-italic">due {dayText(uncounted.nominal, today)}</span>
          )}
        </span>
        <span className="pencilled text-right">+{digits(uncounted.amount, currency)}</span>
        <span className="col-start-2 text-sm @2xl:col-span-3 @2xl:col-start-4 @2xl:text-right">not counted</span>
      </p>
    </div>
  );
}
