import { useVirtualizer } from "@tanstack/react-virtual";
import { useMemo, useState } from "react";
import type { Schemas } from "@/shared/api/client";
import { useAccounts } from "@/shared/api/hooks";
import { HeadroomBar } from "@/shared/charts/HeadroomBar";
import { dayText, digits, money } from "@/shared/format";
import { useView } from "@/shared/view";

type AheadAnswer = Schemas["AheadAnswer"];
type Event = AheadAnswer["events"][number];

const GRID = "grid grid-cols-[4.6rem_1fr_auto] gap-x-3 @2xl:grid-cols-[6.5rem_minmax(0,1fr)_6.5rem_6.5rem_7rem_6.5rem]";

/** The coming days as lines: what moves, in and out, the balance after it, and the headroom left. */
export function RunOfDays({ ahead }: { ahead: AheadAnswer }) {
  const [open, setOpen] = useState<string | null>(null);
  const rows = useMemo(() => ahead.events.map((event, place) => ({ event, key: keyOf(event, place) })), [ahead.events]);
  const most = useMemo(() => Math.max(1, ...ahead.events.map((event) => event.headroom)), [ahead.events]);
  const virtual = useVirtualizer({
    count: rows.length,
    getScrollElement: () => document.getElementById("page"),
    estimateSize: () => 42,
    overscan: 12,
    getItemKey: (place) => rows[place]?.key ?? place,
  });
  if (rows.length === 0) return <p className="text-pencil">Nothing is planned in these days.</p>;
  const showAccount = ahead.accounts.length > 1;
  return (
    <section aria-label="Run of days">
      <div
        aria-hidden="true"
        className={`${GRID} sticky top-0 z-10 border-b border-rule-strong bg-paper py-1 text-sm text-pencil`}
      >
        <span>Day</span>
        <span>What</span>
        <span className="hidden text-right @2xl:block">In</span>
        <span className="hidden text-right @2xl:block">Out</span>
        <span className="text-right">Balance</span>
        <span className="hidden @2xl:block">Headroom</span>
      </div>
      <ol className="relative" style={{ height: virtual.getTotalSize() }}>
        {virtual.getVirtualItems().map((item) => {
          const row = rows[item.index];
          if (!row) return null;
          const before = rows[item.index - 1]?.event;
          return (
            <li
              key={row.key}
              data-index={item.index}
              ref={virtual.measureElement}
              className="absolute inset-x-0"
              style={{ transform: `translateY(${item.start}px)` }}
            >
              <Line
                event={row.event}
                isNewDay={before?.date !== row.event.date}
                today={ahead.today}
                currency={ahead.accounts.find((account) => account.id === row.event.account)?.currency ?? "USD"}
                most={most}
                showAccount={showAccount}
                isOpen={open === row.key}
                onToggle={() => setOpen(open === row.key ? null : row.key)}
              />
            </li>
          );
        })}
      </ol>
    </section>
  );
}

const keyOf = (event: Event, place: number) =>
  `${event.flow}/${event.nominal}/${event.account}/${event.flow ? "" : place}`;

interface LineProps {
  event: Event;
  isNewDay: boolean;
  today: string;
  currency: string;
  most: number;
  showAccount: boolean;
  isOpen: boolean;
  onToggle: () => void;
}

function Line({ event, isNewDay, today, currency, most, showAccount, isOpen, onToggle }: LineProps) {
  const isInk = event.status === "settled";
  const amount = digits(Math.abs(event.amount), currency);
  const isIn = event.amount > 0;
  // What an allowance holds back day by day is part of the sums, but not what one reads the days for.
  const isHeldBack = event.flow === null && !isInk;
  const day = event.date === today ? "Today" : dayText(event.date, today);
  return (
    <div className={isNewDay ? "border-t border-rule" : ""}>
      <button
        type="button"
        aria-expanded={isOpen}
        onClick={onToggle}
        className={`${GRID} w-full items-center text-left hover:bg-hover ${isHeldBack ? "text-sm leading-6 @2xl:[&>span]:text-sm" : "py-1.5 @2xl:min-h-10"}`}
      >
        <span className={`whitespace-nowrap ${isNewDay ? "font-semibold" : "sr-only @2xl:not-sr-only @2xl:invisible"}`}>
          {day}
        </span>
        <span className={`col-start-2 min-w-0 truncate ${isInk ? "inked" : "pencilled"}`}>
          {event.name}
          {showAccount && <AccountName id={event.account} />}
          {event.status === "past_due" && <span className="ml-2 font-semibold not-italic text-rust">past due</span>}
        </span>
        <span className={`text-right @2xl:hidden ${isIn ? "text-teal" : ""}`}>
          {isIn ? "+" : "−"}
          {amount}
        </span>
        <span className={`hidden text-right text-teal @2xl:block ${isInk ? "" : "italic"}`}>
          {isIn && `+${amount}`}
        </span>
        <span className={`hidden text-right @2xl:block ${isInk ? "" : "italic"}`}>{!isIn && `−${amount}`}</span>
        <span
          className={`col-start-2 col-end-4 text-right text-sm text-pencil @2xl:col-auto @2xl:text-base @2xl:text-ink ${event.headroom < 0 ? "font-semibold text-rust @2xl:text-rust" : ""}`}
        >
          <span className="@2xl:hidden">leaves </span>
          {digits(event.balance, currency)}
        </span>
        <span className="hidden @2xl:block">
          <HeadroomBar headroom={event.headroom} most={most} />
          <span className="sr-only">
            {event.headroom < 0
              ? `${money(-event.headroom, currency)} below the floor`
              : `${money(event.headroom, currency)} above the floor`}
          </span>
        </span>
      </button>
      {isOpen && <Why event={event} currency={currency} />}
    </div>
  );
}

function AccountName({ id }: { id: string }) {
  const name = useAccounts().data?.accounts.find(({ account }) => account.id === id)?.account.name;
  return <span className="ml-2 text-sm text-pencil">{name}</span>;
}

/** How this date and amount came about, and the way to change it. */
function Why({ event, currency }: { event: Event; currency: string }) {
  const { openSlip } = useView();
  return (
    <div className="mb-2 ml-[5.35rem] flex flex-wrap items-baseline gap-x-4 gap-y-1 border-l-2 border-copper pl-3 text-sm @2xl:ml-[7.25rem]">
      <p>
        {event.why}
        {event.intraday_low < event.balance && event.intraday_low < 0 && (
          <span className="text-rust">
            {" "}
            If money out left first, that day would dip to {money(event.intraday_low, currency)}.
          </span>
        )}
      </p>
      {event.flow && event.status !== "settled" && (
        <button
          type="button"
          className="text-copper underline underline-offset-4"
          onClick={() => openSlip("once", event.flow, `${event.nominal}~${Math.abs(event.amount)}~${event.date}`)}
        >
          Change just this once
        </button>
      )}
      {event.flow && (
        <button
          type="button"
          className="text-copper underline underline-offset-4"
          onClick={() => openSlip("flow", event.flow as string)}
        >
          Open {event.name}
        </button>
      )}
    </div>
  );
}
