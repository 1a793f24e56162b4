import { counted, money } from "@/shared/format";
import type { Statement } from "./useStatements";

/** How far a statement is, in words. */
export function standing({ missing, is_even, currency }: Statement): string {
  if (is_even) return "Even";
  return `Missing still: ${money(Math.abs(missing), currency)} ${missing > 0 ? "in" : "out"}`;
}

/** What no statement has yet, in words; empty where there is nothing. */
export function outstanding({ outstanding: count, outstanding_sum: sum, currency, finished }: Statement): string {
  if (count === 0) return "";
  return `${counted(count)} ${finished ? "outstanding" : "not yet"}, ${money(sum, currency)} in all`;
}
