import { type FormEvent, type KeyboardEvent, memo, useState } from "react";
import { digits, readAmount } from "@/shared/format";
import { useToast } from "@/shared/kit/Toast";
import { mayType } from "./block";
import { useCells } from "./useCells";
import type { MonthsCell, MonthsRow } from "./useMonths";

interface Props {
  row: MonthsRow;
  cell: MonthsCell;
  month: string;
  monthName: string;
  currency: string;
  place: string;
  isChosen: boolean;
  isFocus: boolean;
  /** What is being typed into it, while it is open. */
  typed: string | null;
  onClose: () => void;
}

/** What a flow does in a month: ink where it is recorded, pencil where it is expected, and another amount typed over. */
export const MonthCell = memo(function MonthCell(props: Props) {
  const { row, cell, month, monthName, currency, place, isChosen, isFocus, typed, onClose } = props;
  const text = cell.amount === 0 && cell.nominals.length === 0 ? "" : digits(cell.amount, currency);
  const both =
    cell.recorded !== 0 && cell.expected !== 0
      ? `${digits(cell.recorded, currency)} recorded, ${digits(cell.expected, currency)} still expected`
      : undefined;
  const slant = cell.expected !== 0 || cell.recorded === 0 ? "pencilled" : "";
  const may = mayType(row, cell);
  return (
    <td
      // biome-ignore lint/a11y/noNoninteractiveElementToInteractiveRole: it is a cell of a grid that is moved through by keys
      role="gridcell"
      data-cell={place}
      data-editable={may || undefined}
      tabIndex={isFocus ? 0 : -1}
      aria-selected={isChosen}
      aria-label={`${row.name}, ${monthName}: ${text || "nothing"}${may ? ", can be changed" : ""}`}
      title={both ?? (cell.nominals.length > 1 ? `${cell.nominals.length} times in this month` : undefined)}
      className={`relative px-2 py-0.5 ${slant} ${may ? "cursor-cell hover:bg-hover" : "cursor-default"} ${isChosen ? "bg-hover shadow-[inset_0_0_0_1px_var(--pencil)]" : ""}`}
    >
      {text}
      {typed !== null && (
        <CellForm row={row} cell={cell} month={month} currency={currency} typed={typed} onClose={onClose} />
      )}
    </td>
  );
});

const REMEMBERED = "cell-changes";

interface FormProps {
  row: MonthsRow;
  cell: MonthsCell;
  month: string;
  currency: string;
  typed: string;
  onClose: () => void;
}

/** Another amount for one month, just this once or from here on; what was chosen last comes first. */
function CellForm({ row, cell, month, currency, typed, onClose }: FormProps) {
  const put = useCells();
  const toast = useToast();
  const [text, setText] = useState(typed || digits(Math.abs(cell.expected), currency));
  const [problem, setProblem] = useState<string>();
  const isOnward = localStorage.getItem(REMEMBERED) === "onward";
  const commit = async (onward: boolean) => {
    const read = readAmount(text, currency);
    if ("problem" in read) return setProblem(read.problem);
    localStorage.setItem(REMEMBERED, onward ? "onward" : "once");
    try {
      await put([{ flow: row.id as string, month, amount: Math.abs(read.amount), onward }]);
      toast(onward ? "Changed from here on" : "Changed just this once");
      onClose();
    } catch (error) {
      setProblem((error as Error).message);
    }
  };
  const onSubmit = (event: FormEvent) => {
    event.preventDefault();
    void commit(isOnward);
  };
  const onKeyDown = (event: KeyboardEvent) => {
    if (event.key === "Escape") onClose();
    event.stopPropagation();
  };
  const choices = isOnward ? [true, false] : [false, true];
  return (
    <form
      aria-label={`Another amount for ${row.name}`}
      onSubmit={onSubmit}
      onKeyDown={onKeyDown}
      onMouseDown={(event) => event.stopPropagation()}
      onPaste={(event) => event.stopPropagation()}
      onCopy={(event) => event.stopPropagation()}
      className="absolute right-0 top-0 z-20 w-44 rounded-sm border border-rule-strong bg-sheet p-2 text-left shadow-lg not-italic text-ink"
    >
      <input
        // biome-ignore lint/a11y/noAutofocus: it was asked for just now, by key or press
        autoFocus
        aria-label={`${row.name}, ${month}, amount`}
        aria-invalid={Boolean(problem)}
        inputMode="decimal"
        value={text}
        onFocus={(event) => typed === "" && event.target.select()}
        onChange={(event) => setText(event.target.value)}
        className="field !min-h-9 text-right"
      />
      {cell.nominals.length > 1 && <p className="mt-1 text-pencil">for {cell.nominals.length} times together</p>}
      {problem && (
        <p role="alert" className="mt-1 text-rust">
          {problem}
        </p>
      )}
      {choices.map((onward, at) => (
        <button
          key={String(onward)}
          type={at === 0 ? "submit" : "button"}
          onClick={at === 0 ? undefined : () => void commit(onward)}
          className="mt-1 block min-h-9 w-full rounded-sm px-2 text-left text-copper hover:bg-hover"
        >
          {onward ? "From here on" : "Just this once"}
        </button>
      ))}
    </form>
  );
}
