import { type KeyboardEvent, memo, type RefObject } from "react";
import { dayText, money } from "@/shared/format";
import { Button } from "@/shared/kit/Button";
import { OtherTerms } from "./OtherTerms";
import { PutOff } from "./PutOff";
import { type Due, keyOf, type SettleLine } from "./useSettle";

export interface DueActions {
  choose: (line: Due) => void;
  edit: (line: Due, what: "settle" | "put_off" | null) => void;
  do: (line: Due, what: SettleLine["do"]) => void;
  send: (line: Due, changed: SettleLine) => void;
  open: (line: Due) => void;
  keyDown: (event: KeyboardEvent, line: Due) => void;
}

interface Props {
  line: Due;
  today: string;
  isChosen: boolean;
  editing: "settle" | "put_off" | null;
  problem: string | undefined;
  actions: RefObject<DueActions | null>;
}

/** One thing that is due. The row itself takes the keys; its buttons do the same by hand. */
export const DueRow = memo(function DueRow({ line, today, isChosen, editing, problem, actions }: Props) {
  const onEdit = (what: "settle" | "put_off" | null) => actions.current?.edit(line, what);
  const onDo = (what: SettleLine["do"]) => actions.current?.do(line, what);
  const onSend = (changed: SettleLine) => actions.current?.send(line, changed);
  const when = line.lands === today ? "today" : dayText(line.lands, today);
  const isIn = line.kind === "income";
  return (
    <li className={`due-row border-b border-rule ${isChosen ? "bg-hover" : ""}`}>
      {/* biome-ignore lint/a11y/useSemanticElements: a fieldset cannot be one row of a list */}
      <div
        role="group"
        // biome-ignore lint/a11y/noNoninteractiveTabindex: the row takes the settling keys
        tabIndex={0}
        data-due={keyOf(line)}
        aria-label={`${line.name}, ${money(line.amount, line.currency)}, ${when}`}
        aria-keyshortcuts="Enter A L P O"
        onKeyDown={(event) => actions.current?.keyDown(event, line)}
        className="grid grid-cols-[auto_5.2rem_1fr_auto] items-center gap-x-3 gap-y-1 py-1.5 @2xl:grid-cols-[auto_6.5rem_minmax(0,1fr)_8rem_auto]"
      >
        <input
          type="checkbox"
          aria-label={`Choose ${line.name}`}
          checked={isChosen}
          onChange={() => actions.current?.choose(line)}
          className="size-4.5 accent-(--ink)"
        />
        <span className={line.status === "past_due" ? "font-semibold text-rust" : ""}>{when}</span>
        <span className="min-w-0">
          <button
            type="button"
            onClick={() => actions.current?.open(line)}
            className="pencilled block max-w-full break-words text-left"
          >
            {line.name}
          </button>
          <Weight line={line} />
        </span>
        <span className={`text-right ${isIn ? "text-teal" : ""}`}>
          {line.estimate && <span className="text-sm text-pencil">about </span>}
          {isIn ? "+" : "−"}
          {money(line.amount, line.currency)}
        </span>
        <span className="col-span-4 flex flex-wrap justify-end gap-1 @2xl:col-span-1">
          <Button
            className="!min-h-9 !border-ink !px-2.5 font-semibold @2xl:min-w-22 @2xl:!px-3"
            onClick={() => onDo("settle")}
          >
            {line.status === "assumed" ? "Confirm" : "Settle"}
          </Button>
          <Button
            className="!min-h-9 !px-2 @2xl:!px-2.5"
            onClick={() => onEdit(editing === "settle" ? null : "settle")}
          >
            Otherwise…
          </Button>
          <Button
            className="!min-h-9 !px-2 @2xl:!px-2.5"
            onClick={() => onEdit(editing === "put_off" ? null : "put_off")}
          >
            Put off
          </Button>
          <Button className="!min-h-9 !px-2 @2xl:!px-2.5" onClick={() => onDo("leave_out")}>
            Leave out
          </Button>
        </span>
      </div>
      {editing === "settle" && (
        <OtherTerms line={line} problem={problem} onSend={onSend} onClose={() => onEdit(null)} />
      )}
      {editing === "put_off" && <PutOff line={line} today={today} onSend={onSend} onClose={() => onEdit(null)} />}
    </li>
  );
});

/** What the line does to its account's lowest point. */
function Weight({ line }: { line: Due }) {
  const { moves_lowest: moves, currency } = line;
  if (line.status === "assumed")
    return <span className="block text-sm text-pencil">counted as gone; confirm it, or say what happened</span>;
  if (moves === null) return null;
  const text =
    moves > 0
      ? `takes the lowest point down by ${money(moves, currency)}`
      : moves < 0
        ? `holds the lowest point up by ${money(-moves, currency)}`
        : "does not touch the lowest point";
  return <span className="block text-sm text-pencil">{text}</span>;
}
