import { type DragEvent, useState } from "react";
import type { Movable } from "@/places/ahead/days/useMove";
import type { Schemas } from "@/shared/api/client";
import { dayText, digits } from "@/shared/format";
import { DayItem } from "./DayItem";

interface Props {
  day: Schemas["CalendarDayModel"];
  today: string;
  isOutside: boolean;
  /** The name of a bank holiday. */
  holiday: string | null;
  currency: string;
  onMove: (item: Movable, day: string) => void;
}

const WATERS = { clear: "", cushion: "bg-honey/40", floor: "shallow" };
// What is being dragged: only one thing can be at a time.
let dragged: Movable | null = null;

/** One day: its items, and what it closes with; items are dragged to another day, or opened and given another date. */
export function Day({ day, today, isOutside, holiday, currency, onMove }: Props) {
  const [isOver, setOver] = useState(false);
  const { date, depth, items } = day;
  const drop = (event: DragEvent) => {
    event.preventDefault();
    setOver(false);
    if (dragged && dragged.date !== date) onMove(dragged, date);
    dragged = null;
  };
  const isEmpty = items.length === 0 && !holiday;
  return (
    <li
      aria-label={dayText(date, today)}
      data-day={date}
      data-depth={depth}
      onDragOver={(event) => {
        event.preventDefault();
        setOver(true);
      }}
      onDragLeave={() => setOver(false)}
      onDrop={drop}
      className={`min-w-0 border-r border-b border-rule p-1.5 @2xl:min-h-24 ${WATERS[depth]} ${isOutside ? "hidden bg-hover @2xl:block" : ""} ${isEmpty && !isOutside ? "hidden @2xl:block" : ""} ${isOver ? "outline-2 -outline-offset-2 outline-copper outline-dashed" : ""}`}
    >
      <DayHead day={day} today={today} currency={currency} />
      {day.short_account && (
        <p className="text-right text-xs font-semibold text-rust">
          {day.short_account} <span className="whitespace-nowrap">{digits(day.short_by, currency)} short</span>
        </p>
      )}
      {holiday && (
        <p className="truncate border-b border-dotted border-pencil text-xs text-pencil" title={holiday}>
          {holiday}
        </p>
      )}
      <ul>
        {items.map((item) => (
          <DayItem
            key={`${item.entry}/${item.flow}/${item.nominal}/${item.name}/${item.amount}`}
            item={item}
            date={date}
            currency={currency}
            onDrag={(movable) => {
              dragged = movable;
            }}
          />
        ))}
      </ul>
    </li>
  );
}

/** The day, and its closing balance: in pencil where it is still to come. */
function DayHead({ day, today, currency }: Pick<Props, "day" | "today" | "currency">) {
  const { date, closing, depth } = day;
  return (
    <p className="flex items-baseline justify-between gap-2 text-sm">
      <span className={date === today ? "rounded-sm bg-ink px-1 font-semibold text-paper" : "text-pencil"}>
        <span className="@2xl:hidden">{dayText(date, today)}</span>
        <span className="hidden @2xl:inline">{date === today ? "Today" : Number(date.slice(8))}</span>
      </span>
      {closing !== null && (
        <span
          className={`whitespace-nowrap ${depth === "floor" ? "font-semibold text-rust" : ""} ${date > today ? "italic" : ""}`}
        >
          {digits(closing, currency)}
        </span>
      )}
    </p>
  );
}
