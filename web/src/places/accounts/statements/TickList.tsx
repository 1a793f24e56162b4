import { useVirtualizer } from "@tanstack/react-virtual";
import { type KeyboardEvent, type MouseEvent, useEffect, useRef, useState } from "react";
import { useHousehold } from "@/shared/api/hooks";
import { dayText, digits } from "@/shared/format";
import { Button } from "@/shared/kit/Button";
import { DayField } from "@/shared/kit/fields/TypedFields";
import { useView } from "@/shared/view";
import { type Line, type Statement, useTick } from "./useStatements";

const GRID =
  "grid grid-cols-[1.5rem_5rem_minmax(0,1fr)_auto] items-center gap-x-3 @2xl:grid-cols-[1.5rem_7rem_minmax(0,1fr)_minmax(0,1fr)_7.5rem]";

/** Every entry that may be on a statement, ticked by mouse or Space, in ranges with Shift, or all up to a day. */
export function TickList({ statement, lines }: { statement: Statement; lines: Line[] }) {
  const list = useRef<HTMLOListElement>(null);
  const [at, setAt] = useState(0);
  const { isTicked, send, press } = useTicks(statement, lines);
  const virtual = useVirtualizer({
    count: lines.length,
    getScrollElement: () => document.getElementById("page"),
    estimateSize: () => 40,
    overscan: 16,
    getItemKey: (place) => lines[place]?.id ?? place,
  });
  const wanted = useFocusAt(list);
  const go = (place: number) => {
    const to = Math.max(0, Math.min(lines.length - 1, place));
    setAt(to);
    virtual.scrollToIndex(to);
    wanted.current = to;
  };
  const onKeyDown = (event: KeyboardEvent) => {
    const step = { ArrowDown: 1, ArrowUp: -1, PageDown: 12, PageUp: -12, Home: -lines.length, End: lines.length }[
      event.key
    ];
    if (step !== undefined) {
      event.preventDefault();
      go(at + step);
    } else if (event.key === " ") {
      event.preventDefault();
      press(at, event.shiftKey);
    }
  };
  if (lines.length === 0)
    return (
      <p className="py-3">Nothing is recorded on this account by the end of the statement: record what it shows.</p>
    );
  return (
    <>
      {!statement.finished && <Many lines={lines} statement={statement} onTick={send} />}
      <ol
        ref={list}
        aria-label="Entries"
        className="relative"
        style={{ height: virtual.getTotalSize() }}
        onKeyDown={onKeyDown}
      >
        {virtual.getVirtualItems().map((item) => {
          const line = lines[item.index];
          return (
            line && (
              <li
                key={item.key}
                data-index={item.index}
                ref={virtual.measureElement}
                className="absolute inset-x-0 border-b border-rule"
                style={{ transform: `translateY(${item.start}px)` }}
              >
                <TickLine
                  line={line}
                  statement={statement}
                  isTicked={isTicked(line)}
                  isReached={item.index === at}
                  onPress={(event) => {
                    press(item.index, event.shiftKey);
                    setAt(item.index);
                  }}
                  onFocus={() => setAt(item.index)}
                />
              </li>
            )
          );
        })}
      </ol>
    </>
  );
}

/** After moving by key to a line that may not be drawn yet: it has the focus once it is. */
function useFocusAt(list: React.RefObject<HTMLOListElement | null>) {
  const wanted = useRef<number | null>(null);
  useEffect(() => {
    if (wanted.current === null) return;
    const box = list.current?.querySelector<HTMLElement>(`[data-index="${wanted.current}"] input`);
    if (!box) return;
    wanted.current = null;
    box.focus({ preventScroll: true });
  });
  return wanted;
}

interface LineProps {
  line: Line;
  statement: Statement;
  isTicked: boolean;
  /** It is the one that Tab comes to. */
  isReached: boolean;
  onPress: (event: MouseEvent) => void;
  onFocus: () => void;
}

function TickLine({ line, statement, isTicked, isReached, onPress, onFocus }: LineProps) {
  const today = useHousehold().data?.today;
  const { currency, finished } = statement;
  const name = `${line.name}, ${dayText(line.date, today)}, ${digits(line.amount, currency)}`;
  return (
    <label
      className={`${GRID} min-h-10 py-1 ${finished ? "" : "cursor-pointer hover:bg-hover"} ${isTicked ? "" : "text-pencil"}`}
    >
      <input
        type="checkbox"
        aria-label={name}
        checked={isTicked}
        disabled={Boolean(finished)}
        tabIndex={isReached ? 0 : -1}
        onClick={onPress}
        onChange={() => {}}
        onFocus={onFocus}
        className="size-4 accent-(--ink)"
      />
      <span className="whitespace-nowrap">{dayText(line.date, today)}</span>
      <span className="min-w-0 break-words">
        {line.name}
        {line.number && <span className="ml-1.5 text-sm text-pencil">no. {line.number}</span>}
        <span className="block text-sm text-pencil @2xl:hidden">{line.other}</span>
      </span>
      <span className="hidden min-w-0 break-words text-pencil @2xl:block">
        {line.is_assumed ? "assumed" : line.other}
      </span>
      <span className={`text-right whitespace-nowrap ${line.amount > 0 ? "text-teal" : ""}`}>
        {line.amount > 0 && "+"}
        {digits(line.amount, currency)}
      </span>
    </label>
  );
}

interface ManyProps {
  lines: Line[];
  statement: Statement;
  onTick: (lines: Line[], on: boolean) => void;
}

/** Many at once: all up to a day, or none. */
function Many({ lines, statement, onTick }: ManyProps) {
  const { openSlip } = useView();
  const [day, setDay] = useState(statement.to);
  return (
    <div className="flex flex-wrap items-end gap-x-3 gap-y-1 py-2">
      <DayField label="All up to" value={day} onChange={setDay} max={statement.to} className="w-40" />
      <Button
        className="!min-h-10"
        onClick={() =>
          onTick(
            lines.filter((line) => line.date <= day),
            true,
          )
        }
      >
        Tick them
      </Button>
      <Button look="link" className="!min-h-10" onClick={() => onTick(lines, false)}>
        Tick none
      </Button>
      <Button
        look="link"
        className="ml-auto !min-h-10"
        onClick={() => openSlip("entry", null, `${statement.account}~${statement.to}`)}
      >
        Record what is missing
      </Button>
    </div>
  );
}

/** Which entries are ticked, what is on its way among them, and ticking one or all between two. */
function useTicks(statement: Statement, lines: Line[]) {
  const tick = useTick(statement.id);
  // What was pressed last is where a range begins, and whether it ticks.
  const [last, setLast] = useState(0);
  // What is on its way shows at once.
  const [sent, setSent] = useState<Record<string, boolean>>({});
  const isTicked = (line: Line) => sent[line.id] ?? line.is_ticked;
  const isLocked = Boolean(statement.finished);
  const send = (chosen: Line[], on: boolean) => {
    const entries = chosen.filter((line) => isTicked(line) !== on).map(({ id }) => id);
    if (entries.length === 0) return;
    const ticks = Object.fromEntries(entries.map((id) => [id, on]));
    setSent((before) => ({ ...before, ...ticks }));
    const forget = () =>
      setSent((before) => Object.fromEntries(Object.entries(before).filter(([id]) => !(id in ticks))));
    tick.mutate({ entries, on }, { onSettled: forget });
  };
  const press = (place: number, isRange: boolean) => {
    const line = lines[place];
    if (!line || isLocked) return;
    const on = isRange && lines[last] ? isTicked(lines[last]) : !isTicked(line);
    send(isRange ? lines.slice(Math.min(last, place), Math.max(last, place) + 1) : [line], on);
    setLast(place);
  };
  return { isTicked, send, press };
}
