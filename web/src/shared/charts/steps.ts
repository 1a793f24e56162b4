/** Step lines: a balance holds from the day it changes until the day it changes next. */
import { dayNumber } from "@/shared/format";

export type Level = [string, number];

export interface Scales {
  x: (day: number) => number;
  y: (amount: number) => number;
}

/** The path of a step line until a day number; where given, it leaves from a level held until a day number. */
export function stepPath(
  levels: readonly (readonly (string | number)[])[],
  until: number,
  { x, y }: Scales,
  from?: { day: number; balance: number | undefined },
): string {
  let path = from?.balance === undefined ? "" : `M${x(from.day).toFixed(1)} ${y(from.balance).toFixed(1)}`;
  for (const [day, balance] of levels as Level[]) {
    const across = x(Math.max(dayNumber(day), from?.day ?? 0)).toFixed(1);
    const up = y(balance).toFixed(1);
    path += path ? `H${across}V${up}` : `M${across} ${up}`;
  }
  return path && `${path}H${x(until).toFixed(1)}`;
}

/** The level in force on a day; undefined before the first. */
export function levelOn(levels: readonly (readonly (string | number)[])[], day: string): number | undefined {
  let low = 0;
  let high = levels.length;
  while (low < high) {
    const middle = (low + high) >> 1;
    if ((levels[middle]?.[0] as string) <= day) low = middle + 1;
    else high = middle;
  }
  return levels[low - 1]?.[1] as number | undefined;
}
