import createClient from "openapi-fetch";
import type { components, paths } from "./schema";

export type Schemas = components["schemas"];
export type Flow = Schemas["Flow"];
export type Account = Schemas["Account"];
export type ChangeRequest = Schemas["ChangeRequest"];
export type TidelineAnswer = Schemas["TidelineAnswer"];
export type Refusal = Schemas["Refusal"];

export const api = createClient<paths>({ baseUrl: "/" });

// Every call names the what-if of the address. Which ones read it, and that edits go into it, is the server's to say
// (`what_if` in its OpenAPI document): so a page cannot hold figures of two plans.
api.use({
  async onRequest({ request }) {
    const shown = new URLSearchParams(window.location.search).get("what_if");
    if (!shown) return undefined;
    const url = new URL(request.url);
    url.searchParams.set("what_if", shown);
    if (request.method === "GET") return new Request(url, request);
    // A body that is sent again is read first.
    const { method, headers, signal } = request;
    return new Request(url, { method, headers, signal, body: await request.arrayBuffer() });
  },
});

/** A request that the app refused, with a sentence for each field; nothing was changed. */
export class Refused extends Error {
  constructor(readonly details: Refusal[]) {
    super(details[0]?.msg ?? "That could not be done.");
  }
}

/** Whether a refusal asks for the password. */
export const isShutOut = (error: unknown): boolean => {
  const details = error instanceof Refused ? error.details : (error as { detail?: Refusal[] } | undefined)?.detail;
  return Array.isArray(details) && details[0]?.type === "login";
};

/** A type as openapi-fetch sees it: it takes pairs for lists. */
type AsFetched<T> = T extends [infer First, infer Second]
  ? (AsFetched<First> | AsFetched<Second>)[]
  : T extends (infer Item)[]
    ? AsFetched<Item>[]
    : T extends object
      ? { [Name in keyof T]: AsFetched<T[Name]> }
      : T;

const own = new Set<number>();

/** Whether all that was changed from one number of the household to another was changed by this window. */
export function isAllOwn(from: number, to: number): boolean {
  let number = from;
  while (number < to && own.has(number + 1)) number += 1;
  return number === to;
}

/** An answer to a change says which number it has: the window that made it reads afresh by itself. */
function remember(data: object) {
  const number = (data as { change_number?: unknown }).change_number;
  if (typeof number === "number") own.add(number);
}

/** The data of an answer, of the type that the address answers with, or the refusal thrown. */
export async function answer<T>(request: Promise<{ data?: AsFetched<T>; error?: unknown }>): Promise<T> {
  const { data, error } = await request.catch((cause) => {
    if (cause instanceof DOMException && cause.name === "AbortError") throw cause;
    throw new Error("The app does not answer. Is it still running?");
  });
  if (data !== undefined) {
    if (data) remember(data);
    return data as T;
  }
  const detail = (error as { detail?: unknown } | undefined)?.detail;
  if (Array.isArray(detail)) throw new Refused(detail as Refusal[]);
  throw new Error("Something went wrong, and nothing was changed.");
}
