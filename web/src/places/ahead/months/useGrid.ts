import { type ClipboardEvent, type KeyboardEvent, type MouseEvent, useCallback, useRef, useState } from "react";
import { useToast } from "@/shared/kit/Toast";
import { type Amount, type Block, filled, isOne, mayType, type Place, pasted, textOf } from "./block";
import { useCells } from "./useCells";
import type { MonthsAnswer } from "./useMonths";

const STEPS: Record<string, [number, number]> = {
  ArrowUp: [-1, 0],
  ArrowDown: [1, 0],
  ArrowLeft: [0, -1],
  ArrowRight: [0, 1],
};

const START: Block = { anchor: { row: 0, column: 0 }, focus: { row: 0, column: 0 } };

/** A grid as one knows it: arrows, Shift for a block, Enter or a digit to write, copy, paste, fill along; Alt moves a row. */
export function useGrid(data: MonthsAnswer, move: (from: number, to: number) => boolean) {
  const table = useRef<HTMLTableElement>(null);
  const [block, setBlock] = useState<Block>(START);
  const [typed, setTyped] = useState<string | null>(null);
  const put = useCells();
  const toast = useToast();
  const focusOn = ({ row, column }: Place) =>
    table.current?.querySelector<HTMLElement>(`[data-cell="${row}/${column}"]`)?.focus();
  const choose = (focus: Place, isExtending: boolean) => {
    setBlock({ anchor: isExtending ? block.anchor : focus, focus });
    focusOn(focus);
  };
  const apply = async (typedAmount: { cells: Amount[] } | { problem: string }, done: string) => {
    if ("problem" in typedAmount) return toast(typedAmount.problem);
    try {
      await put(typedAmount.cells);
      toast(done);
    } catch (error) {
      toast(`${(error as Error).message} Nothing was changed.`);
    }
  };
  const fill = () => void apply(filled(block, data), "Filled along the row, just this once each");
  const open = (text: string) => {
    const row = data.rows[block.focus.row];
    const cell = row?.cells[block.focus.column];
    if (row && cell && mayType(row, cell)) setTyped(text);
  };
  const onKeyDown = (event: KeyboardEvent<HTMLTableElement>) => {
    const place = placeOf(event.target);
    if (!place) return;
    const step = STEPS[event.key];
    if (step && event.altKey) {
      event.preventDefault();
      const moved = { row: block.focus.row + step[0], column: block.focus.column };
      if (!step[0] || !move(block.focus.row, moved.row)) return;
      setBlock({ anchor: moved, focus: moved });
      setTimeout(() => focusOn(moved));
    } else if (step) {
      event.preventDefault();
      const row = Math.max(0, Math.min(data.rows.length - 1, block.focus.row + step[0]));
      const column = Math.max(0, Math.min(data.months.length - 1, block.focus.column + step[1]));
      choose({ row, column }, event.shiftKey);
    } else if (event.key === "Enter" || event.key === "F2") {
      event.preventDefault();
      open("");
    } else if (event.key === "Escape" && !isOne(block)) {
      event.preventDefault();
      choose(place, false);
    } else if (/^[0-9]$/.test(event.key) && !event.ctrlKey && !event.metaKey && !event.altKey) {
      event.preventDefault();
      event.stopPropagation();
      open(event.key);
    }
  };
  const onMouseDown = (event: MouseEvent) => {
    const place = placeOf(event.target);
    if (!place) return;
    event.preventDefault();
    if (isOne(block) && !event.shiftKey && same(place, block.focus) && document.activeElement === cellOf(event.target))
      open("");
    else choose(place, event.shiftKey);
  };
  const onCopy = (event: ClipboardEvent) => {
    if (!placeOf(event.target)) return;
    event.preventDefault();
    event.clipboardData.setData("text/plain", textOf(block, data));
  };
  const onPaste = (event: ClipboardEvent) => {
    if (!placeOf(event.target)) return;
    event.preventDefault();
    void apply(pasted(event.clipboardData.getData("text/plain"), block, data), "Pasted, just this once each");
  };
  const focused = useRef(block.focus);
  focused.current = block.focus;
  const close = useCallback(() => {
    setTyped(null);
    const { row, column } = focused.current;
    setTimeout(() => table.current?.querySelector<HTMLElement>(`[data-cell="${row}/${column}"]`)?.focus());
  }, []);
  return { table, block, typed, close, fill, on: { onKeyDown, onMouseDown, onCopy, onPaste } };
}

const cellOf = (target: EventTarget) => (target as HTMLElement).closest<HTMLElement>("[data-cell]");

const same = (one: Place, other: Place) => one.row === other.row && one.column === other.column;

function placeOf(target: EventTarget): Place | null {
  if ((target as HTMLElement).closest("form")) return null;
  const [row, column] = cellOf(target)?.getAttribute("data-cell")?.split("/") ?? [];
  return row === undefined || column === undefined ? null : { row: Number(row), column: Number(column) };
}
