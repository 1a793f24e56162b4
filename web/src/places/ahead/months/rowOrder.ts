/** In which order the household wants the rows of its months: within their group, remembered by this browser. */
import { useMemo, useState } from "react";
import type { MonthsAnswer, MonthsRow } from "./useMonths";

const KEPT_AS = "months-rows";

function read(): string[] {
  try {
    const stored: unknown = JSON.parse(localStorage.getItem(KEPT_AS) ?? "[]");
    return Array.isArray(stored) ? stored.map(String) : [];
  } catch {
    return [];
  }
}

function write(order: string[]) {
  try {
    localStorage.setItem(KEPT_AS, JSON.stringify(order));
  } catch {
    // It is in the usual order next time.
  }
}

export const keyOf = (row: MonthsRow) => `${row.kind}/${row.id}/${row.name}`;
const groupOf = (row: MonthsRow) => `${row.kind}/${row.group}`;

/** The rows, each among those of its group where it was put; what was never moved stays behind these as it was. */
function ordered(rows: readonly MonthsRow[], order: readonly string[]): MonthsRow[] {
  const wanted = new Map(order.map((key, place) => [key, place]));
  const placeOf = (row: MonthsRow) => wanted.get(keyOf(row)) ?? order.length;
  const groups = new Map<string, MonthsRow[]>();
  for (const row of rows) groups.set(groupOf(row), [...(groups.get(groupOf(row)) ?? []), row]);
  return [...groups.values()].flatMap((group) => group.sort((one, other) => placeOf(one) - placeOf(other)));
}

/** The months with their rows as wanted, and how a row is moved to where another of its group is. */
export function useRowOrder(data: MonthsAnswer) {
  const [order, setOrder] = useState(read);
  const rows = useMemo(() => ordered(data.rows, order), [data.rows, order]);
  /** Whether it could be: a row stays in its group. */
  const move = (from: number, to: number): boolean => {
    const [moved, there] = [rows[from], rows[to]];
    if (!moved || !there || from === to || groupOf(moved) !== groupOf(there)) return false;
    const shown = rows.toSpliced(from, 1).toSpliced(to, 0, moved).map(keyOf);
    // What other accounts have in their months stays as it was put.
    const next = [...shown, ...order.filter((key) => !shown.includes(key))];
    setOrder(next);
    write(next);
    return true;
  };
  return { data: useMemo(() => ({ ...data, rows }), [data, rows]), move };
}
