import { type FormEvent, type KeyboardEvent, useRef, useState } from "react";
import type { ChangeRequest } from "@/shared/api/client";
import { useSave } from "@/shared/api/hooks";
import { digits, readAmount } from "@/shared/format";
import { useToast } from "@/shared/kit/Toast";
import type { MonthsCell, MonthsRow } from "./useMonths";

interface Props {
  row: MonthsRow;
  cell: MonthsCell;
  currency: string;
}

/** What a flow does in a month: ink where it is recorded, pencil where it is expected, and another amount typed over. */
export function MonthCell({ row, cell, currency }: Props) {
  const [isOpen, setOpen] = useState(false);
  const button = useRef<HTMLButtonElement>(null);
  const nominal = cell.nominals[0];
  const mayEdit =
    nominal !== undefined && cell.nominals.length === 1 && ["income", "bill", "transfer"].includes(row.kind);
  const text = cell.amount === 0 && cell.nominals.length === 0 ? "" : digits(cell.amount, currency);
  const title =
    cell.recorded !== 0 && cell.expected !== 0
      ? `${digits(cell.recorded, currency)} recorded, ${digits(cell.expected, currency)} still expected`
      : undefined;
  const look = `px-2 py-0.5 ${cell.expected !== 0 || cell.recorded === 0 ? "pencilled" : ""}`;
  if (!mayEdit)
    return (
      <td className={look} title={title}>
        {text}
      </td>
    );
  const close = () => {
    setOpen(false);
    setTimeout(() => button.current?.focus());
  };
  return (
    <td className={`${look} relative`} title={title}>
      <button
        type="button"
        ref={button}
        aria-label={`${row.name}, ${nominal.slice(0, 7)}, ${text}: change`}
        onClick={() => setOpen(true)}
        className="-mx-1 rounded-sm px-1 italic hover:bg-hover"
      >
        {text}
      </button>
      {isOpen && <CellForm row={row} cell={cell} nominal={nominal} currency={currency} onClose={close} />}
    </td>
  );
}

const REMEMBERED = "cell-changes";

interface FormProps extends Props {
  nominal: string;
  onClose: () => void;
}

/** Another amount for one month, just this once or from here on; what was chosen last comes first. */
function CellForm({ row, cell, nominal, currency, onClose }: FormProps) {
  const save = useSave();
  const toast = useToast();
  const [text, setText] = useState(digits(Math.abs(cell.expected), currency));
  const [problem, setProblem] = useState<string>();
  const isOnward = localStorage.getItem(REMEMBERED) === "onward";
  const commit = (onward: boolean) => {
    const read = readAmount(text, currency);
    if ("problem" in read) return setProblem(read.problem);
    localStorage.setItem(REMEMBERED, onward ? "onward" : "once");
    save.mutate([change(row.id as string, nominal, read.amount, onward)], {
      onSuccess: () => {
        toast(onward ? "Changed from here on" : "Changed just this once");
        onClose();
      },
      onError: (error) => setProblem(error.message),
    });
  };
  const onSubmit = (event: FormEvent) => {
    event.preventDefault();
    commit(isOnward);
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
      className="absolute right-0 top-0 z-20 w-44 rounded-sm border border-rule-strong bg-sheet p-2 text-left shadow-lg not-italic text-ink"
    >
      <input
        // biome-ignore lint/a11y/noAutofocus: it was asked for just now, by key or press
        autoFocus
        aria-label={`${row.name}, ${nominal.slice(0, 7)}, amount`}
        aria-invalid={Boolean(problem)}
        inputMode="decimal"
        value={text}
        onFocus={(event) => event.target.select()}
        onChange={(event) => setText(event.target.value)}
        className="field !min-h-9 text-right"
      />
      {problem && (
        <p role="alert" className="mt-1 text-rust">
          {problem}
        </p>
      )}
      {choices.map((onward, place) => (
        <button
          key={String(onward)}
          type={place === 0 ? "submit" : "button"}
          onClick={place === 0 ? undefined : () => commit(onward)}
          className="mt-1 block min-h-9 w-full rounded-sm px-2 text-left text-copper hover:bg-hover"
        >
          {onward ? "From here on" : "Just this once"}
        </button>
      ))}
    </form>
  );
}

function change(id: string, nominal: string, amount: number, onward: boolean): ChangeRequest {
  if (onward) return { op: "revise", kind: "flow", id, from: nominal, value: { amount } };
  return { op: "once", kind: "flow", id, nominal, value: { amount } };
}
