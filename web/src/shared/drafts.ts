import { z } from "@/shared/zod";

/** What was begun and not saved stays in this browser, by name. */
const PREFIX = "draft ";
// Nobody comes back to more half-done things than that.
const MOST = 40;

// A browser may keep nothing, or be full: a slip works without its draft.
export function readDraft(name: string): unknown {
  try {
    return JSON.parse(localStorage.getItem(PREFIX + name) ?? "null");
  } catch {
    return null;
  }
}

export function writeDraft(name: string, values: unknown) {
  try {
    localStorage.removeItem(PREFIX + name);
    const draftKeys = Object.keys(localStorage).filter((oneName) => oneName.startsWith(PREFIX));
    for (const old of draftKeys.slice(0, Math.max(0, draftKeys.length - MOST + 1))) localStorage.removeItem(old);
    localStorage.setItem(PREFIX + name, JSON.stringify(values));
  } catch {
    // It is not kept.
  }
}

export function removeDraft(name: string) {
  try {
    localStorage.removeItem(PREFIX + name);
  } catch {
    // There was none.
  }
}

/** What of something that was kept has the shape of what it stands for: an older version may have kept another. */
export function fitting<Form extends object>(example: Form, kept: unknown): Partial<Form> {
  if (typeof kept !== "object" || kept === null) return {};
  const names = Object.keys(example).filter((name) => Object.hasOwn(kept, name)) as (keyof Form)[];
  const read = names.map((name) => [name, z.safeParse(shapeOf(example[name]), kept[name as never])] as const);
  return Object.fromEntries(
    read.flatMap(([name, { success, data }]) => (success ? [[name, data]] : [])),
  ) as Partial<Form>;
}

function shapeOf(example: unknown): z.ZodMiniType {
  if (typeof example === "string") return z.string();
  if (typeof example === "boolean") return z.boolean();
  if (typeof example === "number") return z.number();
  if (Array.isArray(example)) return z.array(example.length > 0 ? shapeOf(example[0]) : z.unknown());
  if (typeof example !== "object" || example === null) return z.unknown();
  return z.object(Object.fromEntries(Object.entries(example).map(([name, value]) => [name, shapeOf(value)])));
}
