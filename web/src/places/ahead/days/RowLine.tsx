import { currencyOf } from "@/places/ahead/currencyOf";
import type { Schemas } from "@/shared/api/client";
import { dayText, digits, howMany } from "@/shared/format";
import { AccountName, type DayEvent, DayLine, GRID } from "./DayLine";
import { UncountedLine } from "./UncountedLine";

type AheadAnswer = Schemas["AheadAnswer"];
type Held = AheadAnswer["held"][number];
type Uncounted = AheadAnswer["uncounted"][number];
export type Row =
  | { key: string; date: string; event: DayEvent }
  | { key: string; date: string; stretch: Held }
  | { key: string; date: string; uncounted: Uncounted };

interface RowProps {
  row: Row;
  ahead: AheadAnswer;
  isNewDay: boolean;
  most: number;
  isOpen: boolean;
  isUnfolded: boolean;
  isPointedAt: boolean;
  onToggle: () => void;
  onUnfold: () => void;
  onDrop: (event: DayEvent, day: string) => void;
}

/** A line of the days: something that happens, what an allowance holds back, or a repayment that is not counted on. */
export function RowLine({
  row,
  ahead,
  isNewDay,
  most,
  isOpen,
  isUnfolded,
  isPointedAt,
  onToggle,
  onUnfold,
  onDrop,
}: RowProps) {
  const showAccount = ahead.accounts.length > 1;
  return (
    <>
      {" "}
      {"uncounted" in row ? (
        <UncountedLine
          uncounted={row.uncounted}
          isNewDay={isNewDay}
          today={ahead.today}
          currency={currencyOf(ahead, row.uncounted.account)}
          showAccount={showAccount}
        />
      ) : "stretch" in row ? (
        <HeldLine
          stretch={row.stretch}
          isNewDay={isNewDay}
          today={ahead.today}
          currency={currencyOf(ahead, row.stretch.account)}
          showAccount={showAccount}
          isUnfolded={isUnfolded}
          onToggle={onUnfold}
        />
      ) : (
        <DayLine
          event={row.event}
          isNewDay={isNewDay}
          today={ahead.today}
          currency={currencyOf(ahead, row.event.account)}
          most={most}
          showAccount={showAccount}
          isOpen={isOpen}
          isPointedAt={isPointedAt}
          onToggle={onToggle}
          onDrop={onDrop}
        />
      )}
    </>
  );
}

interface HeldProps {
  stretch: Held;
  isNewDay: boolean;
  today: string;
  currency: string;
  showAccount: boolean;
  isUnfolded: boolean;
  onToggle: () => void;
}

/** What an allowance's period holds back, as one quiet line. */
function HeldLine({ stretch, isNewDay, today, currency, showAccount, isUnfolded, onToggle }: HeldProps) {
  const day = stretch.from === today ? "Today" : dayText(stretch.from, today);
  return (
    <div className={isNewDay ? "border-t border-rule" : ""}>
      <button
        type="button"
        data-line
        aria-expanded={isUnfolded}
        onClick={onToggle}
        className={`${GRID} w-full items-center text-left text-sm leading-7 hover:bg-hover`}
      >
        <span
          className={`whitespace-nowrap text-base ${isNewDay ? "font-semibold" : "sr-only @2xl:not-sr-only @2xl:invisible"}`}
        >
          {day}
        </span>
        <span className="pencilled col-start-2 min-w-0 break-words">
          {stretch.name}, held back until {dayText(stretch.to, today)}
          {showAccount && <AccountName id={stretch.account} />}
        </span>
        <span className="pencilled text-right @2xl:col-start-4">−{digits(stretch.amount, currency)}</span>
        <span className="hidden text-pencil @2xl:col-span-2 @2xl:block">
          {isUnfolded ? "day by day" : `over ${howMany(stretch.days, "day")}`}
        </span>
      </button>
    </div>
  );
}
