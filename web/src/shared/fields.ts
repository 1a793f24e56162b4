/** What is typed into the fields of a form: each text becomes what the app takes, or is a problem of its own field. */
import { z } from "@/shared/zod";
import { readAmount, readRate } from "./format";

type Read<Value> = { value: Value } | { problem: string };
type Reader<Value> = (text: string) => Read<Value>;

const typed = <Value>(read: Reader<Value>) =>
  z.pipe(
    z.string(),
    z.transform((text, context): Value => {
      const result = read(text);
      if ("value" in result) return result.value;
      context.issues.push({ code: "custom", message: result.problem, input: text });
      return z.NEVER;
    }),
  );

const orBlank =
  <Value, Blank>(blank: Blank, read: Reader<Value>): Reader<Value | Blank> =>
  (text) =>
    text.trim() === "" ? { value: blank } : read(text);

const amount =
  (currency: string): Reader<number> =>
  (text) => {
    const read = readAmount(text, currency);
    return "amount" in read ? { value: read.amount } : read;
  };

const rate: Reader<string> = (text) => {
  const read = readRate(text);
  return "rate" in read ? { value: read.rate } : read;
};

const whole =
  (most: number): Reader<number> =>
  (text) =>
    /^\d+$/.test(text.trim()) && text.trim().length <= most
      ? { value: Number(text) }
      : { problem: "Write a whole number." };

/** An amount in minor units. */
export const amountIn = (currency: string) => typed(amount(currency));
/** An amount in minor units, or something else where none is typed. */
export const amountOr = <Blank extends number | null>(blank: Blank, currency: string) =>
  typed(orBlank(blank, amount(currency)));
/** A rate in percent, as the decimal that is sent. */
export const RATE = typed(rate);
export const rateOr = (blank: string) => typed(orBlank(blank, rate));
/** A whole number of so many digits at most. */
export const wholeNumber = (most: number) => typed(whole(most));
export const wholeOr = <Blank extends number | null>(blank: Blank, most: number) => typed(orBlank(blank, whole(most)));

/** What there is to say of an amount that has to be more than nothing. */
export const ABOVE_ZERO = "Write an amount above zero.";

// What is read, held against what makes sense; where nothing is typed there is nothing to hold.
export const aboveZero = z.refine<number | null>((amount) => amount === null || amount > 0, ABOVE_ZERO);
export const notBelowZero = z.refine<number | null>((amount) => (amount ?? 0) >= 0, "Write an amount of zero or more.");
export const rateNotBelowZero = z.refine<string>((rate) => !rate.startsWith("-"), "Write a rate of zero or more.");
export const atLeastOnePayment = z.refine<number | null>((count) => count !== 0, "Write a number of payments.");

/** What is wrong, by the name of the field as the app calls it: `limit`, `parts.0.amount`; and so for what holds it. */
export type Problems = Record<string, string>;

export type Fields<Value> = { value: Value } | { problems: Problems };

/** All fields of a form read at once; or all that cannot be read yet. */
export function readFields<Schema extends z.ZodMiniType>(
  schema: Schema,
  texts: z.input<Schema>,
): Fields<z.output<Schema>> {
  const read = z.safeParse(schema, texts);
  if (read.success) return { value: read.data };
  const problems: Problems = {};
  for (const { path, message } of read.error.issues)
    path.forEach((_, deep) => {
      problems[path.slice(0, deep + 1).join(".")] ??= message;
    });
  return { problems };
}

/** The first of what is wrong, where one place tells it all. */
export const firstProblem = (read: Fields<unknown>): string | undefined =>
  "problems" in read ? Object.values(read.problems)[0] : undefined;

/** What is wrong with a field. */
export const problemOf = (read: Fields<unknown>, field: string): string | undefined =>
  "problems" in read ? read.problems[field] : undefined;
