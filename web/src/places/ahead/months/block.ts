/** A block of cells of the grid of months: where it is, as text for the clipboard, and back. */
import type { Schemas } from "@/shared/api/client";
import { digits, howMany, readAmount } from "@/shared/format";
import type { MonthsAnswer, MonthsCell, MonthsRow } from "./useMonths";

export interface Place {
  row: number;
  column: number;
}

/** From one corner to the other. */
export interface Block {
  anchor: Place;
  focus: Place;
}

export type Amount = Schemas["MonthAmountModel"];

export const within = ({ anchor, focus }: Block, row: number, column: number) =>
  row >= Math.min(anchor.row, focus.row) &&
  row <= Math.max(anchor.row, focus.row) &&
  column >= Math.min(anchor.column, focus.column) &&
  column <= Math.max(anchor.column, focus.column);

const span = (one: number, other: number) =>
  Array.from({ length: Math.abs(one - other) + 1 }, (_, step) => Math.min(one, other) + step);

export const rowsOf = ({ anchor, focus }: Block) => span(anchor.row, focus.row);
export const columnsOf = ({ anchor, focus }: Block) => span(anchor.column, focus.column);
export const isOne = ({ anchor, focus }: Block) => anchor.row === focus.row && anchor.column === focus.column;

export const mayEdit = (row: MonthsRow, cell: MonthsCell) => cell.nominals.length > 0 && row.may_change;

/** What is typed may also begin something in a month that has nothing. */
export const mayType = (row: MonthsRow, cell: MonthsCell) =>
  mayEdit(row, cell) || (row.may_change && cell.amount === 0);

/** The block as tab-separated text. */
export function textOf(block: Block, data: MonthsAnswer): string {
  const line = (row: number) =>
    columnsOf(block).map((column) => {
      const cell = data.rows[row]?.cells[column];
      return cell && (cell.amount !== 0 || cell.nominals.length > 0) ? digits(cell.amount, data.currency) : "";
    });
  return rowsOf(block)
    .map((row) => line(row).join("\t"))
    .join("\n");
}

/** What pasted text puts into the cells; or why it cannot. One value fills the whole block. */
export function pasted(text: string, block: Block, data: MonthsAnswer): { cells: Amount[] } | { problem: string } {
  const lines = text.replace(/\r\n?/g, "\n").replace(/\n$/, "").split("\n");
  const values = lines.map((line) => line.split("\t"));
  const wide = values[0]?.length ?? 0;
  if (values.some((line) => line.length !== wide))
    return { problem: "The lines that were pasted are not equally long. Nothing was changed." };
  const fills = lines.length === 1 && wide === 1;
  const rows = fills || !isOne(block) ? rowsOf(block) : values.map((_, at) => block.anchor.row + at);
  const columns =
    fills || !isOne(block) ? columnsOf(block) : (values[0] ?? []).map((_, at) => block.anchor.column + at);
  if (!fills && (rows.length !== values.length || columns.length !== wide))
    return {
      problem: `${shape(values.length, wide)} were copied, ${shape(rows.length, columns.length)} are chosen. Nothing was changed.`,
    };
  const cells: Amount[] = [];
  for (const [down, row] of rows.entries())
    for (const [across, column] of columns.entries()) {
      const written = (fills ? values[0]?.[0] : values[down]?.[across]) ?? "";
      if (written.trim() === "" && !fills) continue;
      const typed = amountFor(written, data, row, column);
      if ("problem" in typed) return typed;
      cells.push(typed);
    }
  return { cells };
}

const shape = (rows: number, columns: number) => `${howMany(rows, "row")} of ${howMany(columns, "cell")}`;

function amountFor(written: string, data: MonthsAnswer, row: number, column: number): Amount | { problem: string } {
  const gridRow = data.rows[row];
  const cell = gridRow?.cells[column];
  const month = data.months[column]?.month;
  if (!gridRow || !cell || !month) return { problem: "What was pasted reaches beyond the grid. Nothing was changed." };
  if (!mayEdit(gridRow, cell))
    return {
      problem: `“${gridRow.name}” cannot be written in ${month}: nothing is expected there, or it follows from something else. Nothing was changed.`,
    };
  const read = readAmount(written, data.currency);
  if ("problem" in read) return { problem: `${written}: ${read.problem} Nothing was changed.` };
  return { flow: gridRow.id as string, month, amount: Math.abs(read.amount), onward: false };
}

/** The first cell's amount in every other cell of its row. */
export function filled(block: Block, data: MonthsAnswer): { cells: Amount[] } | { problem: string } {
  const [first, ...others] = columnsOf(block);
  const cells: Amount[] = [];
  for (const row of rowsOf(block)) {
    const from = data.rows[row]?.cells[first ?? 0];
    for (const column of others) {
      const typed = amountFor(digits(Math.abs(from?.expected || from?.amount || 0), data.currency), data, row, column);
      if ("problem" in typed) return typed;
      cells.push(typed);
    }
  }
  return { cells };
}
