/** Amounts and dates as text. Amounts are integers of minor units and never pass through a fraction. */
import { addDays, format, parseISO } from "date-fns";

let decimalsByCurrency: Record<string, number> = {};

export function setDecimals(decimals: Record<string, number>) {
  decimalsByCurrency = decimals;
}

export function decimalsOf(currency: string): number {
  return decimalsByCurrency[currency] ?? 2;
}

/** One formatter for each currency: its symbol, its place and its decimals. */
const formats = new Map<string, Intl.NumberFormat>();

function formatOf(currency: string, style: "currency" | "decimal"): Intl.NumberFormat {
  const key = `${style} ${currency}`;
  let known = formats.get(key);
  if (!known) {
    const digits = { minimumFractionDigits: decimalsOf(currency), maximumFractionDigits: decimalsOf(currency) };
    known = new Intl.NumberFormat("en-US", { style, ...(style === "currency" && { currency }), ...digits });
    formats.set(key, known);
  }
  return known;
}

/** Minor units in words of the formatter: a decimal number as text, which it takes exactly. */
function written(amount: number, currency: string, style: "currency" | "decimal"): string {
  const decimals = decimalsOf(currency);
  const padded = Math.abs(amount)
    .toString()
    .padStart(decimals + 1, "0");
  const major = `${padded.slice(0, padded.length - decimals)}.${padded.slice(padded.length - decimals) || "0"}`;
  return `${amount < 0 ? "−" : ""}${formatOf(currency, style).format(major as `${number}`)}`;
}

/** Minor units as plain digits: `1,234.56`, a true minus before a negative. */
export const digits = (amount: number, currency: string): string => written(amount, currency, "decimal");

/** An amount with its currency: `$1,234.56`, `−CHF 12.00`. */
export const money = (amount: number, currency: string): string => written(amount, currency, "currency");

/** Commas between thousands, as many people write them, or between lakhs. */
const GROUPED = /^[+-]?\D{0,4}?\d{1,3}((,\d{3})+|(,\d{2})*,\d{3})(\.\d*)?$/;

/** What a person typed as an amount, in minor units; or what is wrong with it. */
export function readAmount(text: string, currency: string): { amount: number } | { problem: string } {
  const decimals = decimalsOf(currency);
  const plain = text.replace(/\s/g, "").replace("−", "-");
  if (plain.includes(",") && !GROUPED.test(plain)) return { problem: askAboutComma(plain, currency) };
  const match = plain.replace(/,/g, "").match(/^([+-]?)\D{0,4}?(\d*)(?:\.(\d*))?$/);
  if (!match || !(match[2] || match[3])) return { problem: "Write an amount such as 1,250.00." };
  const part = match[3] ?? "";
  if (part.length > decimals) {
    const most = decimals === 0 ? "no decimals" : decimals === 1 ? "one decimal" : `${decimals} decimals`;
    return { problem: `${currency} has ${most}: write ${digits(100000, currency)} and the like.` };
  }
  const all = `${match[2]}${part.padEnd(decimals, "0")}`;
  if (all.length > 13) return { problem: "This amount is too large." };
  return { amount: Number(`${match[1]}${all}`) };
}

/** A comma that groups no thousands may be meant as a point: the person is asked, nothing is guessed. */
function askAboutComma(text: string, currency: string): string {
  const pointed = text.replace(",", ".");
  const read = /^[+-]?\D{0,4}?\d+\.\d+$/.test(pointed) ? readAmount(pointed, currency) : null;
  const meant = read && "amount" in read ? `Is ${digits(read.amount, currency)} meant? ` : "";
  return `${meant}A comma stands between thousands here, as in ${digits(decimalsOf(currency) ? 125000 : 1250, currency)}.`;
}

export const iso = (day: Date): string => format(day, "yyyy-MM-dd");
export const civil = (day: string): Date => parseISO(day);
export const plusDays = (day: string, days: number): string => iso(addDays(civil(day), days));
/** `Thu 18 Mar`, with the year where it is not this one. */
export function dayText(day: string, today?: string): string {
  return format(civil(day), today && day.slice(0, 4) !== today.slice(0, 4) ? "EEE d MMM yyyy" : "EEE d MMM");
}
/** `Mar 2041`, of a month or a day. */
export const monthOf = (month: string): string => format(civil(`${month.slice(0, 7)}-01`), "MMM yyyy");
export const dayNumber = (day: string): number =>
  Date.UTC(+day.slice(0, 4), +day.slice(5, 7) - 1, +day.slice(8)) / 864e5;
export const dayOfNumber = (number: number): string => new Date(Math.round(number) * 864e5).toISOString().slice(0, 10);
