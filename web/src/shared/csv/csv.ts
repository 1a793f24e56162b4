/** Lists as CSV (RFC 4180): days as ISO 8601, amounts as plain decimals, and what people typed never as a formula. */
import { decimalsOf } from "@/shared/format";

/** A cell: a text, or an amount in minor units of a currency. */
export type CsvCell = string | null | { amount: number; currency: string };

/** What a spreadsheet takes for the beginning of a formula gets an apostrophe before it (OWASP). */
const guarded = (text: string) => (/^[=+\-@\t']/.test(text) ? `'${text}` : text);

/** Minor units as a decimal number that any program reads: `-1234.56`. */
export function plainAmount(amount: number, currency: string): string {
  const decimals = decimalsOf(currency);
  const figures = Math.abs(amount)
    .toString()
    .padStart(decimals + 1, "0");
  const whole = figures.slice(0, figures.length - decimals);
  const fraction = figures.slice(figures.length - decimals);
  return `${amount < 0 ? "-" : ""}${whole}${decimals > 0 ? `.${fraction}` : ""}`;
}

function written(cell: CsvCell): string {
  if (cell === null) return "";
  if (typeof cell === "object") return plainAmount(cell.amount, cell.currency);
  const text = guarded(cell);
  return /[",\r\n]/.test(text) ? `"${text.replaceAll('"', '""')}"` : text;
}

/** A whole table, with its line of headings. */
export const csvOf = (headings: readonly string[], rows: readonly (readonly CsvCell[])[]): string =>
  [headings, ...rows].map((row) => `${row.map(written).join(",")}\r\n`).join("");
