import { ChevronDown, X } from "lucide-react";
import { Popover } from "radix-ui";
import { useState } from "react";
import type { Schemas } from "@/shared/api/client";
import { useOffered } from "@/shared/api/hooks";
import { levelOn } from "@/shared/charts/steps";
import { Tideline } from "@/shared/charts/Tideline";
import { useWidth } from "@/shared/charts/useWidth";
import { dayText, money } from "@/shared/format";
import { useChance } from "@/shared/hooks/useChance";
import { useRemembered } from "@/shared/hooks/useRemembered";
import { Button } from "@/shared/kit/Button";
import { ChooseOne } from "@/shared/kit/fields/Choice";
import { Select } from "@/shared/kit/fields/Select";
import { useWaters } from "@/shared/look/waters";
import { SPAN_NAMES, SPANS, useView } from "@/shared/view";

/** The tideline with its row of choices: whose balance, how far, and the day being read. */
export function TidelineBand() {
  const view = useView();
  const waters = useWaters();
  const [isBandWanted, wantBand] = useRemembered("band", true);
  const shown = view.accounts.length ? view.accounts : (waters.plain?.accounts ?? []);
  // Of an edit that is not saved nothing is drawn: the line must come at once.
  const chance = useChance(shown, waters.today, waters.until, isBandWanted && !view.each);
  const [ref, width] = useWidth<HTMLDivElement>();
  const [reading, setReading] = useState<string | null>(null);
  const answer = waters.drafted ?? waters.plain;
  const plain = waters.plain?.line ?? null;
  const line = plain ?? answer?.copper ?? null;
  // While a what-if is looked at or an edit is not saved yet, what is said is of that, like the marks on the line.
  const drawnLine = answer?.copper ?? line;
  const height = width > 0 && width < 640 ? 60 : 132;
  return (
    <section aria-label="Tideline" className="border-b border-rule px-4 md:px-6">
      <div className="flex min-h-9 flex-wrap items-center gap-x-2">
        <AccountChooser shown={view.accounts.length ? view.accounts : (answer?.accounts ?? [])} />
        <Select
          label="How far ahead"
          value={view.span}
          onChange={(span) => view.set({ span, from: null, until: null, left: null, right: null })}
          options={SPANS.map((span) => ({ value: span, label: SPAN_NAMES[span] }))}
          className="min-h-9 rounded-sm px-2 hover:bg-hover"
        />
        <Showing today={waters.today} isBandWanted={isBandWanted} onBand={wantBand} />
        {(drawnLine || !answer) && <Reading day={reading} line={drawnLine} today={waters.today} />}
      </div>
      <div ref={ref} style={{ minHeight: height }}>
        {line && width > 0 && (
          <Tideline
            line={line}
            copper={waters.drafted?.copper ?? null}
            today={waters.today}
            from={waters.from}
            until={waters.until}
            width={width}
            height={height}
            period={view.period}
            reading={reading}
            each={(waters.drafted ?? waters.plain)?.each ?? []}
            marks={answer?.marks ?? []}
            chance={isBandWanted && chance?.is_known ? chance : undefined}
            isOfEdit={waters.drafted !== undefined && waters.drafted !== waters.plain}
            onZoom={(shown) => view.set({ left: shown?.from ?? null, right: shown?.until ?? null })}
            onRead={setReading}
            onPeriod={(period) => view.set({ from: period?.from ?? null, until: period?.until ?? null })}
          />
        )}
        {answer && !line && (
          <p className="pt-6 text-center text-pencil">Your balance will be drawn here, day by day.</p>
        )}
      </div>
    </section>
  );
}

interface ReadingProps {
  day: string | null;
  line: Schemas["TidelineModel"] | null;
  today: string;
}

/** The day under the pointer, or what is lowest ahead. */
function Reading({ day, line, today }: ReadingProps) {
  const lowest = line?.lowest;
  const balance = line && day && (day > today ? levelOn(line.pencil, day) : levelOn(line.ink, day));
  // On a phone it has two lines of its own, before it is known and whatever it says: what is below stays.
  return (
    <p
      className="ml-auto text-right text-sm max-sm:min-h-10 max-sm:w-full md:text-base"
      data-testid={line ? "reading" : undefined}
    >
      {day && line ? (
        <span className={day > today ? "pencilled" : ""}>
          {dayText(day, today)}: {balance === undefined ? "not open yet" : money(balance as number, line.currency)}
        </span>
      ) : line && lowest ? (
        <LowestAhead low={lowest} currency={line.currency} today={today} />
      ) : null}
    </p>
  );
}

function LowestAhead({
  low,
  currency,
  today,
}: {
  low: { date: string; balance: number; headroom: number };
  currency: string;
  today: string;
}) {
  const when = low.date === today ? "today" : `on ${dayText(low.date, today)}`;
  return (
    <>
      Lowest ahead: <strong>{money(low.balance, currency)}</strong> {when},{" "}
      {low.headroom < 0 ? (
        <strong className="text-rust">{money(-low.headroom, currency)} below the floor</strong>
      ) : (
        <>{money(low.headroom, currency)} above the floor</>
      )}
      .
    </>
  );
}

function AccountChooser({ shown }: { shown: string[] }) {
  const view = useView();
  const accounts = useOffered(shown) ?? [];
  if (accounts.length === 0) return null;
  const names = accounts.filter(({ account }) => shown.includes(account.id)).map(({ account }) => account.name);
  const spendable = accounts.filter((oneAccount) => oneAccount.is_spendable).map(({ account }) => account.id);
  const toggle = (id: string) => {
    const next = shown.includes(id) ? shown.filter((other) => other !== id) : [...shown, id];
    if (next.length) view.set({ accounts: next.join(",") });
  };
  return (
    <Popover.Root>
      <Popover.Trigger className="-ml-2 flex min-h-9 items-center gap-1.5 rounded-sm px-2 font-semibold hover:bg-hover">
        <span className="line-clamp-2 max-w-[46vw] text-left md:max-w-80">{names.join(" + ") || "Accounts"}</span>
        <ChevronDown size={16} aria-hidden className="text-pencil" />
      </Popover.Trigger>
      <Popover.Portal>
        <Popover.Content
          align="start"
          sideOffset={4}
          aria-label="Accounts in the tideline"
          className="z-50 min-w-64 rounded-sm border border-rule-strong bg-sheet p-2 shadow-lg"
        >
          <fieldset>
            <legend className="px-2 pb-1 text-sm text-pencil">Accounts in the tideline</legend>
            {accounts.map(({ account, today_balance }) => (
              <label key={account.id} className="flex min-h-9 items-center gap-2.5 rounded-sm px-2 hover:bg-hover">
                <input
                  type="checkbox"
                  checked={shown.includes(account.id)}
                  onChange={() => toggle(account.id)}
                  className="size-4 accent-(--ink)"
                />
                <span className="flex-1">{account.name}</span>
                <span>{money(today_balance, account.currency)}</span>
              </label>
            ))}
          </fieldset>
          {accounts.length > 1 && (
            <div className="mt-1 flex flex-wrap items-center gap-2 border-t border-rule px-2 pt-2">
              {spendable.length > 1 && (
                <Button look="link" className="!min-h-9" onClick={() => view.set({ accounts: spendable.join(",") })}>
                  All that can be spent
                </Button>
              )}
              {shown.length > 1 && (
                <ChooseOne
                  label="How they are drawn"
                  value={view.each ? "each" : "together"}
                  onChange={(lines) => view.set({ lines: lines === "each" ? "each" : null })}
                  options={[
                    { value: "together", label: "Together" },
                    { value: "each", label: "Each its own line" },
                  ]}
                />
              )}
            </div>
          )}
        </Popover.Content>
      </Popover.Portal>
    </Popover.Root>
  );
}

interface ShowingProps {
  today: string;
  isBandWanted: boolean;
  onBand: (isWanted: boolean) => void;
}

/** What of the line is looked at: a stretch, a period, and whether the band is drawn. */
function Showing({ today, isBandWanted, onBand }: ShowingProps) {
  const view = useView();
  return (
    <>
      {" "}
      {view.zoom && (
        <button
          type="button"
          onClick={() => view.set({ left: null, right: null })}
          className="min-h-9 rounded-sm px-2 text-copper hover:bg-hover"
        >
          All of it again
        </button>
      )}
      {view.period && (
        <button
          type="button"
          onClick={() => view.set({ from: null, until: null })}
          className="flex min-h-9 items-center gap-1.5 rounded-sm px-2 text-copper hover:bg-hover"
        >
          {dayText(view.period.from, today)} to {dayText(view.period.until, today)}
          <X size={15} aria-label="Show all days again" />
        </button>
      )}
      <button
        type="button"
        aria-pressed={isBandWanted}
        onClick={() => onBand(!isBandWanted)}
        className={`min-h-9 rounded-sm px-2 hover:bg-hover ${isBandWanted ? "" : "text-pencil line-through"}`}
      >
        How sure<span className="max-sm:sr-only"> it is</span>
      </button>
    </>
  );
}
