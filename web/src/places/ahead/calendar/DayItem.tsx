import type { DragEvent } from "react";
import { type Movable, mayMove } from "@/places/ahead/days/useMove";
import type { Schemas } from "@/shared/api/client";
import { digits } from "@/shared/format";
import { useView } from "@/shared/view";

type Item = Schemas["DayItemModel"];

interface Props {
  item: Item;
  date: string;
  currency: string;
  onDrag: (item: Movable) => void;
}

/** What moves on a day: ink where it is recorded, pencil where it is expected; it opens, and may be dragged. */
export function DayItem({ item, date, currency, onDrag }: Props) {
  const open = useOpen(item, date);
  const movable = { ...item, date };
  const text = <Words item={item} currency={currency} />;
  const look = `flex min-h-6 w-full items-baseline justify-between gap-2 text-left text-sm ${item.status === "settled" ? "" : "pencilled"}`;
  if (!open) return <li className={look}>{text}</li>;
  const drag = mayMove(movable)
    ? {
        draggable: true,
        onDragStart: (event: DragEvent) => {
          event.dataTransfer.setData("text/plain", item.name);
          onDrag(movable);
        },
      }
    : {};
  return (
    <li>
      <button
        type="button"
        onClick={open}
        className={`${look} rounded-sm hover:bg-hover ${mayMove(movable) ? "cursor-grab" : ""}`}
        {...drag}
      >
        {text}
      </button>
    </li>
  );
}

/** Names give way; amounts never break. */
function Words({ item, currency }: { item: Item; currency: string }) {
  const amount = item.amount || item.passed;
  const sign = item.amount === 0 ? "" : item.amount > 0 ? "+" : "−";
  return (
    <>
      <span className="min-w-0 truncate" title={item.card ? `${item.name}, on ${item.card}` : item.name}>
        {item.status === "past_due" && <span className="text-rust not-italic">past due </span>}
        {item.name}
        {item.card && !item.name.includes(item.card) && <span className="text-pencil"> on {item.card}</span>}
      </span>
      <span className={`shrink-0 whitespace-nowrap ${item.amount > 0 ? "text-teal" : ""}`}>
        {sign}
        {digits(Math.abs(amount), currency)}
      </span>
    </>
  );
}

/** What opens on pressing it: the entry, the one occurrence, or its flow; nothing for what a rule made. */
function useOpen(item: Item, date: string): (() => void) | undefined {
  const { openSlip } = useView();
  if (item.entry) return () => openSlip("entry", item.entry as string);
  if (!item.flow) return undefined;
  if (item.status === "settled") return () => openSlip("flow", item.flow as string);
  const start = `${item.nominal}~${Math.abs(item.amount || item.passed)}~${date}`;
  return () => openSlip("once", item.flow as string, start);
}
