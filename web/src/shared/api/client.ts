import createClient from "openapi-fetch";
import type { components, paths } from "./schema";

export type Schemas = components["schemas"];
export type Flow = Schemas["Flow"];
export type Account = Schemas["Account"];
export type ChangeRequest = Schemas["ChangeRequest"];
export type TidelineAnswer = Schemas["TidelineAnswer"];
export type Refusal = Schemas["Refusal"];

export const api = createClient<paths>({ baseUrl: "/" });

/** Calls that read figures of the plan with the what-if of the address laid over it; and edits, which go into it. */
const KNOWS_WHAT_IFS =
  /^\/api\/(ahead|changes|tideline|year-list|net-worth|months|figures|forecast|afford|remedies|debts|escrow|payoff|flows|allowances|accounts)/;

api.use({
  async onRequest({ request }) {
    const shown = new URLSearchParams(window.location.search).get("what_if");
    const url = new URL(request.url);
    if (!shown || !KNOWS_WHAT_IFS.test(url.pathname) || url.pathname.startsWith("/api/payoff/adopt")) return undefined;
    url.searchParams.set("what_if", shown);
    if (request.method === "GET") return new Request(url, request);
    // A body that is sent again is read first.
    const { method, headers, signal } = request;
    return new Request(url, { method, headers, signal, body: await request.text() });
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

/** The data of an answer, or the refusal thrown. */
export async function answer<T>(request: Promise<{ data?: unknown; error?: unknown }>): Promise<T> {
  const { data, error } = await request.catch((cause) => {
    if (cause instanceof DOMException && cause.name === "AbortError") throw cause;
    throw new Error("The app does not answer. Is it still running?");
  });
  if (data !== undefined) return data as T;
  const detail = (error as { detail?: unknown } | undefined)?.detail;
  if (Array.isArray(detail)) throw new Refused(detail as Refusal[]);
  throw new Error("Something went wrong, and nothing was changed.");
}
