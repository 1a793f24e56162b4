import type { Schemas } from "@/shared/api/client";
import { dayText, digits, money } from "@/shared/format";
import { Button } from "@/shared/kit/Button";
import { Fold } from "@/shared/kit/Fold";

export type Check = Schemas["InterestAnswer"];
export type Convention = Schemas["Convention"];

interface Props {
  check: Check;
  currency: string;
  today: string;
  /** The way of counting that the account keeps; another that is right can be kept in its place. */
  own?: Schemas["WayModel"];
  onKeep?: (way: Convention) => void;
}

const AT_FIRST = 4;

/** What the check says: which way of counting is right, what else would explain it, and each day. */
export function Verdict({ check, currency, today, own, onKeep }: Props) {
  const isOwn = (way: Convention) =>
    own !== undefined &&
    way.basis === own.basis &&
    way.compounding === own.compounding &&
    way.movements_earn === own.movements_earn &&
    way.rounding === own.rounding;
  return (
    <div className="flex flex-col gap-2 py-2">
      <p role="status">{check.verdict}</p>
      {check.explanations.map((sentence) => (
        <p key={sentence} className="text-pencil">
          {sentence}
        </p>
      ))}
      {check.yield_earned !== null && <p className="text-pencil">Yield earned: {check.yield_earned} % a year.</p>}
      <Fold label="The nearest ways of counting" isSet={false}>
        <ul aria-label="Ways of counting">
          {check.conventions.slice(0, Math.max(AT_FIRST, check.matches)).map((way) => (
            <li key={way.words} className="flex flex-wrap items-center gap-x-4 border-b border-rule py-1">
              <span className="min-w-60 flex-1">
                {way.words}
                {isOwn(way) && <span className="ml-2 text-sm text-pencil">the account's own</span>}
              </span>
              <span className="whitespace-nowrap">{money(way.interest, currency)}</span>
              <span className="w-28 text-right whitespace-nowrap">{off(way.difference, currency)}</span>
              {onKeep && way.difference === 0 && !isOwn(way) && (
                <Button
                  look="link"
                  className="!min-h-8"
                  aria-label={`Count so: ${way.words}`}
                  onClick={() => onKeep(way)}
                >
                  Count so
                </Button>
              )}
            </li>
          ))}
        </ul>
      </Fold>
      <Fold label="Day by day" isSet={false}>
        <table className="max-w-xl border-collapse text-right text-sm">
          <thead>
            <tr className="border-b border-rule-strong text-pencil [&>th]:py-1 [&>th]:font-normal">
              <th className="text-left">Day</th>
              <th>Balance that earns</th>
              <th>Earned, in hundredths</th>
            </tr>
          </thead>
          <tbody>
            {check.days.map((day) => (
              <tr key={day.date} className="border-b border-rule">
                <td className="text-left">{dayText(day.date, today)}</td>
                <td>{digits(day.balance, currency)}</td>
                <td>{day.earned}</td>
              </tr>
            ))}
          </tbody>
        </table>
      </Fold>
    </div>
  );
}

/** What the bank paid beyond a way of counting. */
export function off(difference: number, currency: string) {
  if (difference === 0) return <span className="text-pencil">exactly</span>;
  return (
    <span className="text-rust">
      {money(Math.abs(difference), currency)} {difference > 0 ? "more" : "less"}
    </span>
  );
}
