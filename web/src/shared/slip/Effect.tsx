import { ArrowRight } from "lucide-react";
import { useCallback, useEffect, useLayoutEffect, useRef, useState } from "react";
import type { Schemas } from "@/shared/api/client";
import { useAccounts } from "@/shared/api/hooks";
import { dayText, money, monthOf } from "@/shared/format";
import { useWaters } from "@/shared/look/waters";

// As many stretches as leave room for the lowest points above them.
const AT_ONCE = 2;

type Low = Schemas["LowPointModel"] | null;

/** What the unsaved edit does: each account's lowest point before and after, where it moves. */
export function Effect({ isUntouched }: { isUntouched: boolean }) {
  const { drafted, until, today } = useWaters();
  const looked = drafted?.looked_until ?? until;
  const accounts = useAccounts().data?.accounts ?? [];
  const { region, content, isLong } = useLongRegion();
  const before = new Map(drafted?.before.accounts.map((oneAccount) => [oneAccount.id, oneAccount.lowest]));
  const moved = (drafted?.after.accounts ?? []).filter(
    ({ id, lowest }) => lowest && (lowest.balance !== before.get(id)?.balance || lowest.date !== before.get(id)?.date),
  );
  return (
    // As high before the answer as after it: what one is about to press above it stays where it is.
    <section
      ref={region}
      aria-label="What this does"
      aria-live="polite"
      tabIndex={isLong ? 0 : undefined}
      className="mb-2 h-24 overflow-y-auto text-sm md:h-36"
      data-testid="effect"
    >
      <div ref={content}>
        <DebtFree before={drafted?.before.debt_free} after={drafted?.after.debt_free} />
        {drafted?.notes.map((note) => (
          <p key={note} className="border-l-2 border-copper pl-2">
            {note}
          </p>
        ))}
        {(drafted || isUntouched) && (
          <h3 className="font-sans text-sm text-pencil">Lowest until {dayText(looked, today)}</h3>
        )}
        {moved.length === 0 && (
          <p>{drafted ? "The lowest points stay as they are." : isUntouched ? "Nothing changed yet." : ""}</p>
        )}
        {moved.map(({ id, lowest }) => {
          const account = accounts.find((oneAccount) => oneAccount.account.id === id)?.account;
          return (
            <p key={id} className="flex flex-wrap items-baseline gap-x-1.5">
              <span className="text-pencil">{account?.name ?? "The new account"}:</span>
              {before.get(id) && (
                <>
                  <LowText
                    low={before.get(id) ?? null}
                    currency={account?.currency ?? drafted?.copper?.currency ?? "USD"}
                    today={today}
                  />
                  <ArrowRight size={14} aria-label="becomes" className="self-center" />
                </>
              )}
              <span className="font-semibold text-copper">
                <LowText
                  low={lowest}
                  currency={account?.currency ?? drafted?.copper?.currency ?? "USD"}
                  today={today}
                />
              </span>
            </p>
          );
        })}
        {drafted?.effects.slice(0, AT_ONCE).map((effect) => (
          <StretchLine
            key={`${effect.account} ${effect.below} ${effect.from}`}
            effect={effect}
            account={accounts.find((oneAccount) => oneAccount.account.id === effect.account)?.account}
            today={today}
          />
        ))}
        {drafted && drafted.effects_in_all > AT_ONCE && (
          <p>
            and {drafted.effects_in_all - AT_ONCE} more{" "}
            {drafted.effects_in_all === AT_ONCE + 1 ? "stretch" : "stretches"}
          </p>
        )}
      </div>
    </section>
  );
}

interface StretchProps {
  effect: Schemas["StretchEffectModel"];
  account: Schemas["Account"] | undefined;
  today: string;
}

/** A stretch below the floor or cushion that comes, goes, or becomes deeper or less deep. */
function StretchLine({ effect, account, today }: StretchProps) {
  const currency = account?.currency ?? "USD";
  const day = (date: string) => (date === today ? "today" : dayText(date, today));
  const days = effect.from === effect.to ? day(effect.from) : `${day(effect.from)} to ${day(effect.to)}`;
  const short = (amount: number) => `${money(amount, currency)} short`;
  const where = effect.below === "floor" ? "below the floor" : "below the cushion";
  return (
    <p className="border-l-2 border-copper pl-2">
      <span className="text-pencil">{account?.name ?? "The new account"}:</span>{" "}
      {effect.what === "goes" ? `no longer ${where}, ${days}` : `${where}, ${days}`}
      {": "}
      <span className="whitespace-nowrap">
        {effect.short_before > 0 && short(effect.short_before)}
        {effect.short_before > 0 && <ArrowRight size={14} aria-label="becomes" className="mx-1 inline self-center" />}
        <span className="font-semibold text-copper">{effect.short_after > 0 ? short(effect.short_after) : "none"}</span>
      </span>
    </p>
  );
}

/** When the household is out of debt, before and after, where that moves. */
function DebtFree({ before, after }: { before: string | null | undefined; after: string | null | undefined }) {
  if ((before ?? null) === (after ?? null)) return null;
  const monthWording = (month: string | null | undefined) => (month ? monthOf(month) : "no debt");
  return (
    <p className="flex items-baseline gap-x-1.5">
      <span className="text-pencil">Out of debt:</span>
      {monthWording(before)}
      <ArrowRight size={14} aria-label="becomes" className="self-center" />
      <span className="font-semibold text-copper">{monthWording(after)}</span>
    </p>
  );
}

function LowText({ low, currency, today }: { low: Low; currency: string; today: string }) {
  if (!low) return null;
  const when = low.date === today ? "today" : dayText(low.date, today);
  return (
    <span className="whitespace-nowrap">
      {money(low.balance, currency)} {when}
      {low.headroom < 0 && ` (${money(-low.headroom, currency)} short)`}
    </span>
  );
}

/** Whether what stands in a box of one height is longer than it: then keys scroll it. */
function useLongRegion() {
  const region = useRef<HTMLElement>(null);
  const [isLong, setLong] = useState(false);
  const content = useRef<HTMLDivElement>(null);
  const measure = useCallback(() => {
    const { scrollHeight = 0, clientHeight = 0 } = region.current ?? {};
    setLong(scrollHeight > clientHeight);
  }, []);
  // Keys reach what is hidden below from the moment on that it is.
  useLayoutEffect(measure);
  useEffect(() => {
    // What is said may wrap otherwise at any time, as when the fonts come.
    const watching = new ResizeObserver(measure);
    if (content.current) watching.observe(content.current);
    return () => watching.disconnect();
  }, [measure]);
  return { region, content, isLong };
}
