import { type DragEvent, type KeyboardEvent, useState } from "react";
import type { Schemas } from "@/shared/api/client";
import { useAccounts } from "@/shared/api/hooks";
import { HeadroomBar } from "@/shared/charts/HeadroomBar";
import { dayText, digits, money, plusDays } from "@/shared/format";
import { useView } from "@/shared/view";
import { mayMove, useMove } from "./useMove";

export type DayEvent = Schemas["AheadAnswer"]["events"][number];

export const GRID =
  "grid grid-cols-[4.6rem_1fr_auto] gap-x-3 @2xl:grid-cols-[6.5rem_minmax(0,1fr)_6.5rem_6.5rem_7rem_6.5rem]";

interface LineProps {
  event: DayEvent;
  isNewDay: boolean;
  today: string;
  currency: string;
  most: number;
  showAccount: boolean;
  isOpen: boolean;
  isPointedAt: boolean;
  onToggle: () => void;
  onDrop: (event: DayEvent, day: string) => void;
}

// What is being dragged: only one thing can be at a time.
let dragged: DayEvent | null = null;

/** One movement: opened for its reason, or given another day by dragging it there or with Alt and the arrows. */
export function DayLine(props: LineProps) {
  const { event, isNewDay, currency, isOpen, isPointedAt, onToggle, onDrop } = props;
  const [isOver, setOver] = useState(false);
  const move = useMove();
  const isInk = event.status === "settled";
  // What an allowance holds back day by day is part of the sums, but not what one reads the days for.
  const isHeldBack = event.flow === null && !isInk;
  const onKeyDown = (key: KeyboardEvent<HTMLButtonElement>) => {
    if (key.altKey && (key.key === "ArrowUp" || key.key === "ArrowDown")) {
      key.preventDefault();
      move(event, plusDays(event.date, key.key === "ArrowUp" ? -1 : 1), false);
    }
  };
  const drop = (drag: DragEvent) => {
    drag.preventDefault();
    setOver(false);
    if (dragged && dragged.date !== event.date) onDrop(dragged, event.date);
    dragged = null;
  };
  return (
    // biome-ignore lint/a11y/noStaticElementInteractions: only a place to drop on; the keys do the same
    <div
      className={`${isNewDay ? "border-t border-rule" : ""} ${isOver ? "outline-2 -outline-offset-2 outline-copper outline-dashed" : ""} ${isPointedAt ? "bg-hover shadow-[-4px_0_0_var(--copper)]" : ""}`}
      onDragOver={(drag) => {
        if (!dragged) return;
        drag.preventDefault();
        setOver(true);
      }}
      onDragLeave={() => setOver(false)}
      onDrop={drop}
    >
      <button
        type="button"
        data-line
        aria-expanded={isOpen}
        aria-keyshortcuts={mayMove(event) ? "Alt+ArrowUp Alt+ArrowDown" : undefined}
        draggable={mayMove(event)}
        onDragStart={(drag) => {
          drag.dataTransfer.setData("text/plain", event.name);
          drag.dataTransfer.effectAllowed = "move";
          dragged = event;
        }}
        onClick={onToggle}
        onKeyDown={onKeyDown}
        className={`${GRID} w-full items-center text-left hover:bg-hover ${isHeldBack ? "text-sm leading-6 @2xl:[&>span]:text-sm" : "py-1.5 @2xl:min-h-10"}`}
      >
        <Columns {...props} />
      </button>
      {isOpen && <Why event={event} currency={currency} />}
    </div>
  );
}

export function AccountName({ id }: { id: string }) {
  const name = useAccounts().data?.accounts.find(({ account }) => account.id === id)?.account.name;
  return <span className="ml-2 text-sm text-pencil">{name}</span>;
}

const LINK = "text-copper underline underline-offset-4";

/** How this date and amount came about, and the ways to change it. */
function Why({ event, currency }: { event: DayEvent; currency: string }) {
  const { openSlip } = useView();
  const move = useMove();
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
          className={LINK}
          onClick={() => openSlip("once", event.flow, `${event.nominal}~${Math.abs(event.amount)}~${event.date}`)}
        >
          Change just this once
        </button>
      )}
      {mayMove(event) && (
        <>
          <button type="button" className={LINK} onClick={() => move(event, plusDays(event.date, -1), false)}>
            A day earlier
          </button>
          <button type="button" className={LINK} onClick={() => move(event, plusDays(event.date, 1), false)}>
            A day later
          </button>
        </>
      )}
      {event.flow && (
        <button type="button" className={LINK} onClick={() => openSlip("flow", event.flow as string)}>
          Open {event.name}
        </button>
      )}
    </div>
  );
}

/** The day, name, amount, balance and headroom of a line. */
function Columns({ event, isNewDay, today, currency, most, showAccount }: LineProps) {
  const isInk = event.status === "settled";
  const amount = digits(Math.abs(event.amount), currency);
  const isIn = event.amount > 0;
  const day = event.date === today ? "Today" : dayText(event.date, today);
  return (
    <>
      {" "}
      <span className={`whitespace-nowrap ${isNewDay ? "font-semibold" : "sr-only @2xl:not-sr-only @2xl:invisible"}`}>
        {day}
      </span>
      <span className={`col-start-2 min-w-0 break-words ${isInk ? "inked" : "pencilled"}`}>
        {event.name}
        {showAccount && <AccountName id={event.account} />}
        {event.may_not_come && <span className="ml-2 text-sm text-pencil">may not come</span>}
        {event.status === "past_due" && <span className="ml-2 font-semibold not-italic text-rust">past due</span>}
      </span>
      <span className={`text-right @2xl:hidden ${isIn ? "text-teal" : ""}`}>
        {isIn ? "+" : "−"}
        {amount}
      </span>
      <span className={`hidden text-right text-teal @2xl:block ${isInk ? "" : "italic"}`}>{isIn && `+${amount}`}</span>
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
    </>
  );
}
