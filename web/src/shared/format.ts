/** Amounts and dates as text. Amounts are integers of minor units and never pass through a fraction. */
import { addDays, format, parseISO } from "date-fns";

let decimalsByCurrency: Record<string, number> = {};

export function setDecimals(decimals: Record<string, number>) {
  decimalsByCurrency = decimals;
}

export function decimalsOf(currency: string): number {
  return decimalsByCurrency[currency] ?? 2;
}

const SYMBOLS: Record<string, string> = { USD: "$", EUR: "€", GBP: "£", JPY: "¥", INR: "₹" };

/** Minor units as plain digits: `1,234.56`, a true minus before a negative. */
export function digits(amount: number, currency: string): string {
  const decimals = decimalsOf(currency);
  const padded = Math.abs(amount)
    .toString()
    .padStart(decimals + 1, "0");
  const whole = padded.slice(0, padded.length - decimals).replace(/\B(?=(\d{3})+$)/g, ",");
  const part = decimals ? `.${padded.slice(-decimals)}` : "";
  return `${amount < 0 ? "−" : ""}${whole}${part}`;
}

/** An amount with its currency: `$1,234.56`, `−CHF 12.00`. */
export function money(amount: number, currency: string): string {
  const symbol = SYMBOLS[currency] ?? `${currency}\u00a0`;
  return `${amount < 0 ? "−" : ""}${symbol}${digits(Math.abs(amount), currency)}`;
}

/** What a person typed as an amount, in minor units; or what is wrong with it. */
export function readAmount(text: string, currency: string): { amount: number } | { problem: string } {
  const decimals = decimalsOf(currency);
  const match = text
    .trim()
    .replace(/[\s,]/g, "")
    .replace("−", "-")
    .match(/^([+-]?)\D{0,4}?(\d*)(?:\.(\d*))?$/);
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
