import { type DragEvent, useState } from "react";
import { mayMove } from "@/places/ahead/useMove";
import type { Schemas } from "@/shared/api/client";
import { dayText, digits } from "@/shared/format";
import { useView } from "@/shared/view";

export type CalendarEvent = Schemas["AheadAnswer"]["events"][number];

interface Props {
  day: string;
  today: string;
  isOutside: boolean;
  /** The name of a bank holiday. */
  holiday: string | null;
  events: CalendarEvent[];
  closing: string | null;
  depth: "clear" | "cushion" | "floor";
  currency: string;
  onMove: (event: CalendarEvent, day: string) => void;
}

const WATERS = { clear: "", cushion: "bg-honey/40", floor: "shallow" };
// What is being dragged: only one thing can be at a time.
let dragged: CalendarEvent | null = null;

/** One day: its items, and what it closes with; items are dragged to another day, or opened and given another date. */
export function Day({ day, today, isOutside, holiday, events, closing, depth, currency, onMove }: Props) {
  const [isOver, setOver] = useState(false);
  const moving = events.filter((event) => event.flow !== null || event.status === "settled");
  const drop = (event: DragEvent) => {
    event.preventDefault();
    setOver(false);
    if (dragged && dragged.date !== day) onMove(dragged, day);
    dragged = null;
  };
  const isEmpty = moving.length === 0 && !holiday;
  return (
    <li
      aria-label={dayText(day, today)}
      data-day={day}
      data-depth={depth}
      onDragOver={(event) => {
        event.preventDefault();
        setOver(true);
      }}
      onDragLeave={() => setOver(false)}
      onDrop={drop}
      className={`min-w-0 border-r border-b border-rule p-1.5 @2xl:min-h-24 ${WATERS[depth]} ${isOutside ? "hidden bg-hover @2xl:block" : ""} ${isEmpty && !isOutside ? "hidden @2xl:block" : ""} ${isOver ? "outline-2 -outline-offset-2 outline-copper outline-dashed" : ""}`}
    >
      <p className="flex items-baseline justify-between gap-2 text-sm">
        <span className={day === today ? "rounded-sm bg-ink px-1 font-semibold text-paper" : "text-pencil"}>
          <span className="@2xl:hidden">{dayText(day, today)}</span>
          <span className="hidden @2xl:inline">{day === today ? "Today" : Number(day.slice(8))}</span>
        </span>
        {closing && (
          <span className={`${depth === "floor" ? "font-semibold text-rust" : ""} ${day > today ? "italic" : ""}`}>
            {closing}
          </span>
        )}
      </p>
      {holiday && (
        <p className="truncate border-b border-dotted border-pencil text-xs text-pencil" title={holiday}>
          {holiday}
        </p>
      )}
      <ul>
        {moving.map((event) => (
          <Item
            key={`${event.flow}/${event.nominal}/${event.account}/${event.amount}`}
            event={event}
            currency={currency}
          />
        ))}
      </ul>
    </li>
  );
}

function Item({ event, currency }: { event: CalendarEvent; currency: string }) {
  const { openSlip } = useView();
  const isInk = event.status === "settled";
  const open = () => openSlip("once", event.flow, `${event.nominal}~${Math.abs(event.amount)}~${event.date}`);
  const look = `flex w-full justify-between gap-2 text-left text-sm ${isInk ? "" : "pencilled"}`;
  const text = (
    <>
      <span className="min-w-0 truncate">{event.name}</span>
      <span className={`shrink-0 whitespace-nowrap ${event.amount > 0 ? "text-teal" : ""}`}>
        {event.amount > 0 ? "+" : "−"}
        {digits(Math.abs(event.amount), currency)}
      </span>
    </>
  );
  if (!mayMove(event)) return <li className={look}>{text}</li>;
  return (
    <li>
      <button
        type="button"
        draggable
        onDragStart={(drag) => {
          drag.dataTransfer.setData("text/plain", event.name);
          drag.dataTransfer.effectAllowed = "move";
          dragged = event;
        }}
        onClick={open}
        className={`${look} cursor-grab rounded-sm hover:bg-hover`}
      >
        {text}
      </button>
    </li>
  );
}
