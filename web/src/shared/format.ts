/** Amounts and dates as text. Amounts are integers of minor units and never pass through a fraction. */
import { addDays, format, parseISO } from "date-fns";

let decimalsByCurrency: Record<string, number> = {};
/** Which marks part thousands and decimals. */
let marks = { group: ",", decimal: "." };
let isEnglish = true;
let isDayFirst = false;

interface Writing {
  decimals: Record<string, number>;
  notation: string;
  date_order: string;
}

/** How this household writes amounts and dates. */
export function setWriting({ decimals, notation, date_order }: Writing) {
  decimalsByCurrency = decimals;
  marks = { group: notation[1] === " " ? "\u202f" : (notation[1] ?? ","), decimal: notation[5] ?? "." };
  isEnglish = marks.decimal === ".";
  isDayFirst = date_order === "day_first";
}

/** Whether `3/4` is the third of April here. */
export const isDayBeforeMonth = () => isDayFirst;

/** The number within a text as the household writes it; its symbol stays as it is. */
function inNotation(text: string): string {
  const start = text.search(/\d/);
  const number = text.slice(start).replace(/[.,]/g, (mark) => (mark === "," ? marks.group : marks.decimal));
  return text.slice(0, start) + number;
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
  const text = formatOf(currency, style).format(major as `${number}`);
  return `${amount < 0 ? "−" : ""}${isEnglish ? text : inNotation(text)}`;
}

/** Minor units as plain digits: `1,234.56`, a true minus before a negative. */
export const digits = (amount: number, currency: string): string => written(amount, currency, "decimal");

/** An amount with its currency: `$1,234.56`, `−CHF 12.00`. */
export const money = (amount: number, currency: string): string => written(amount, currency, "currency");

/** A separator as it is called in a sentence. */
const called = (mark: string) => ({ ",": "comma", ".": "point" })[mark] ?? "space";

/** Thousands as many people group them, or lakhs. */
const isGrouped = (whole: string, group: string) => {
  const parts = whole.split(group);
  const [first = "", ...others] = parts;
  if (parts.length === 1) return true;
  return /^\d{1,3}$/.test(first) && others.at(-1)?.length === 3 && others.every((part) => /^\d{2,3}$/.test(part));
};

/** What a person typed as an amount, in minor units, sums worked out; or what is wrong with it. */
export function readAmount(text: string, currency: string): { amount: number } | { problem: string } {
  const plain = text.replace(/[\s\u202f\u00a0]/g, "").replace(/[−–]/g, "-");
  const terms = plain.match(/[+-]?[^+-]+/g) ?? [];
  if (terms.length <= 1 || terms.join("") !== plain) return readProduct(plain, currency);
  let sum = 0;
  for (const term of terms) {
    const read = readProduct(term, currency);
    if ("problem" in read) return read;
    sum += read.amount;
  }
  return { amount: sum };
}

/** A rate in percent as the household writes it, with or without its sign, as a decimal: `22,9` is `22.9`. */
export function readRate(text: string): { rate: string } | { problem: string } {
  const plain = text.trim().replace(/\s*%$/, "").replace("−", "-");
  const { decimal } = marks;
  const [whole = "", part, ...more] = plain.split(decimal);
  const isRate = /^-?\d+$/.test(whole) && (part === undefined || /^\d+$/.test(part)) && more.length === 0;
  if (!isRate) return { problem: `Write a rate such as 5${decimal}85.` };
  return { rate: part === undefined ? whole : `${whole}.${part}` };
}

/** A plain decimal as it is sent; what cannot be read is left for the app to refuse at its field. */
export function sentDecimal(text: string): string {
  const read = readRate(text);
  return "rate" in read ? read.rate : text.trim();
}

/** A rate or another plain decimal as the household writes it. */
export const rateText = (rate: string | number | null | undefined): string =>
  String(rate ?? "").replace(".", marks.decimal);

/** A share of a hundred as the household writes it, with the sign and the space that belong to it. */
export const shareText = (share: string | number): string => `${rateText(share).replace("-", "−")}\u00a0%`;

/** How many there are, as the household groups digits. */
export const counted = (count: number): string => count.toLocaleString("en").replaceAll(",", marks.group);

/** A product such as 27*12: an amount, and how many times. */
function readProduct(plain: string, currency: string): { amount: number } | { problem: string } {
  const [first = "", ...times] = plain.split(/[*×]/);
  const read = readTerm(first, currency);
  if ("problem" in read) return read;
  if (!times.every((count) => /^\d{1,6}$/.test(count)))
    return { problem: "Write how many times as a whole number, such as 27*12." };
  const amount = times.reduce((product, count) => product * Number(count), read.amount);
  return Number.isSafeInteger(amount) && Math.abs(amount) < 1e15
    ? { amount }
    : { problem: "This amount is too large." };
}

function readTerm(plain: string, currency: string): { amount: number } | { problem: string } {
  const decimals = decimalsOf(currency);
  const { decimal, group } = marks;
  const parts = plain.match(/^([+-]?)([^\d.,+-]{0,4})([\d.,]+)([^\d.,+-]{0,4})$/);
  // A letter beside the digits is a slip of the finger, unless the currency is written so: “4o” is no 4.
  const match = parts && isSign(parts[2] ?? "", currency) && isSign(parts[4] ?? "", currency) ? parts : null;
  const number = match?.[3] ?? "";
  const at = number.indexOf(decimal);
  const whole = at < 0 ? number : number.slice(0, at);
  const part = at < 0 ? "" : number.slice(at + 1);
  if (match && part.includes(group))
    return { problem: `A ${called(group)} stands between thousands here, as in ${digits(125000, currency)}.` };
  const isOdd = !/\d/.test(number) || (part !== "" && !/^\d+$/.test(part));
  const foreign = whole.replaceAll(group, "").replace(/\d/g, "");
  if (match && (foreign !== "" || !isGrouped(whole, group))) return { problem: askAboutMark(number, currency) };
  if (!match || isOdd) return { problem: `Write an amount such as ${digits(decimals ? 125000 : 1250, currency)}.` };
  if (part.length > decimals) {
    const most = decimals === 0 ? "no decimals" : decimals === 1 ? "one decimal" : `${decimals} decimals`;
    return { problem: `${currency} has ${most}: write ${digits(100000, currency)} and the like.` };
  }
  const all = `${whole.replaceAll(group, "")}${part.padEnd(decimals, "0")}`;
  if (all.length > 13) return { problem: "This amount is too large." };
  return { amount: Number(`${match[1]}${all}`) };
}

/** Whether a text beside an amount is its currency's sign or code, or nothing. */
function isSign(text: string, currency: string): boolean {
  if (text === "" || /^\p{Sc}$/u.test(text)) return true;
  const signs = (["symbol", "narrowSymbol", "code"] as const).map(
    (display) =>
      new Intl.NumberFormat("en", { style: "currency", currency, currencyDisplay: display })
        .formatToParts(0)
        .find(({ type }) => type === "currency")?.value,
  );
  return signs.some((sign) => sign?.toLowerCase() === text.toLowerCase());
}

/** A mark that groups no thousands may be meant as the decimal one: the person is asked, nothing is guessed. */
function askAboutMark(number: string, currency: string): string {
  const odd = number.match(/[.,]/)?.[0] ?? ",";
  const parts = number.split(odd);
  const read = parts.length === 2 ? readTerm(parts.join(marks.decimal), currency) : null;
  const meant = odd !== marks.decimal && read && "amount" in read ? `Is ${digits(read.amount, currency)} meant? ` : "";
  const thousand = digits(decimalsOf(currency) ? 125000 : 1250, currency);
  if (odd !== marks.group) return `${meant}Amounts are written as in ${thousand} here.`;
  return `${meant}A ${called(marks.group)} stands between thousands here, as in ${thousand}.`;
}

export const iso = (day: Date): string => format(day, "yyyy-MM-dd");
export const civil = (day: string): Date => parseISO(day);
export const plusDays = (day: string, days: number): string => iso(addDays(civil(day), days));
/** `Mar 18` or `18 Mar`. */
export const shortDay = (day: string): string => format(civil(day), isDayFirst ? "d MMM" : "MMM d");
/** `Thu Mar 18`, or with the day first; with the year where it is not this one. */
export function dayText(day: string, today?: string): string {
  const text = `${format(civil(day), "EEE")} ${shortDay(day)}`;
  if (!today || day.slice(0, 4) === today.slice(0, 4)) return text;
  return `${text}${isDayFirst ? "" : ","} ${day.slice(0, 4)}`;
}
/** `Mar 2041`, of a month or a day. */
export const monthOf = (month: string): string => format(civil(`${month.slice(0, 7)}-01`), "MMM yyyy");
export const dayNumber = (day: string): number =>
  Date.UTC(+day.slice(0, 4), +day.slice(5, 7) - 1, +day.slice(8)) / 864e5;
export const dayOfNumber = (number: number): string => new Date(Math.round(number) * 864e5).toISOString().slice(0, 10);

/** So many of a thing whose plural ends in s. */
export const howMany = (count: number, noun: string): string => `${count} ${noun}${count === 1 ? "" : "s"}`;

/** In so many days, in words. */
export const inDays = (days: number): string =>
  days === 0 ? "today" : days === 1 ? "tomorrow" : `in ${howMany(days, "day")}`;

/** So many months, in words. */
export const monthsText = (count: number): string => (count === 1 ? "one month" : `${count} months`);
