import type { Picture } from "./wayOut";

export const monthNumber = (month: string): number => +month.slice(0, 4) * 12 + +month.slice(5, 7) - 1;
export const monthText = (month: number): string =>
  `${Math.floor(month / 12)}-${String((month % 12) + 1).padStart(2, "0")}`;
/** The day number of the first of a month. */
export const firstDay = (month: number): number => Date.UTC(Math.floor(month / 12), month % 12, 1) / 864e5;

/** What is owed on each debt at the end of a month, in the order of the picture. */
export interface Column {
  month: number;
  owed: number[];
  sum: number;
  isInk: boolean;
}

const column = (month: number, owed: number[], isInk: boolean): Column => ({
  month,
  owed,
  sum: owed.reduce((sum, part) => sum + part, 0),
  isInk,
});

/** The months on record, then what the plan begins with, then each month of it. */
export function columnsOf(picture: Picture): Column[] {
  const ids = picture.debts.map((debt) => debt.id);
  // Months on record are told in the order of the accounts, which is that of the balances.
  const debtIds = Object.keys(picture.owed);
  const places = ids.map((id) => debtIds.indexOf(id));
  const start = monthNumber(picture.start);
  const today = monthNumber(picture.today);
  const past = picture.past.map((part) =>
    column(
      monthNumber(part.month),
      places.map((place) => part.owed[place] ?? 0),
      true,
    ),
  );
  const begin = column(
    start - 1,
    picture.debts.map((debt) => debt.owed),
    start <= today,
  );
  const planned = Array.from({ length: picture.months }, (_, later) =>
    column(
      start + later,
      ids.map((id) => picture.owed[id]?.[later] ?? 0),
      false,
    ),
  );
  return [...past.filter((oneColumn) => oneColumn.month < begin.month), begin, ...planned];
}
