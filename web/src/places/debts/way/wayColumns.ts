export const monthNumber = (month: string): number => +month.slice(0, 4) * 12 + +month.slice(5, 7) - 1;
export const monthText = (month: number): string =>
  `${Math.floor(month / 12)}-${String((month % 12) + 1).padStart(2, "0")}`;
/** The day number of the first of a month. */
export const firstDay = (month: number): number => Date.UTC(Math.floor(month / 12), month % 12, 1) / 864e5;
