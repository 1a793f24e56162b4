import createClient from "openapi-fetch";
import createQueries from "openapi-react-query";
import type { Calls, Queries } from "./addresses";
import type { components, paths } from "./schema";

export type Schemas = components["schemas"];
export type Flow = Schemas["Flow"];
export type Account = Schemas["Account"];
export type ChangeRequest = Schemas["ChangeRequest"];
export type TidelineAnswer = Schemas["TidelineAnswer"];
export type Refusal = Schemas["Refusal"];

const client = createClient<paths>({ baseUrl: "/" });

/** A request that the app refused, with a sentence for each field; nothing was changed. */
export class Refused extends Error {
  constructor(
    readonly details: Refusal[],
    /** All that was answered: beside the sentences, what one may need to ask again. */
    readonly body: object = {},
  ) {
    super(details[0]?.msg ?? "That could not be done.");
  }
}

/** A request that nobody answered: the app is not running, or cannot be reached. */
export class NoAnswer extends Error {
  constructor() {
    super("The app does not answer. Is it still running?");
  }
}

/** What a refusal says of a field, wherever that stands in what was sent. */
export const refusalOf = (error: unknown, field: string): string | undefined =>
  error instanceof Refused ? error.details.find(({ loc }) => loc.includes(field))?.msg : undefined;

/** Whether a refusal asks for the password. */
export const isShutOut = (error: unknown): boolean => error instanceof Refused && error.details[0]?.type === "login";

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

interface Answered {
  data?: unknown;
  error?: unknown;
  response: Response;
}

/** The answer to a request, or thrown why there is none. */
async function answered(request: Promise<Answered>): Promise<Answered> {
  const answer = await request.catch((cause) => {
    if (cause instanceof DOMException && cause.name === "AbortError") throw cause;
    throw new NoAnswer();
  });
  const { data, error, response } = answer;
  if (data) remember(data);
  if (response.ok) return answer;
  const detail = (error as { detail?: unknown } | undefined)?.detail;
  if (Array.isArray(detail)) throw new Refused(detail as Refusal[], error as object);
  throw new Error("Something went wrong, and nothing was changed.");
}

type Call = (path: string, init?: object) => Promise<Answered>;
const plain = client as unknown as Record<string, Call>;
const asked =
  (method: string): Call =>
  (path, init) =>
    answered((plain[method] as Call)(path, inWhatIf(init)));

// Every call names the what-if of the address. Which ones read it, and that edits go into it, is the server's to say
// (`what_if` in its OpenAPI document): so a page cannot hold figures of two plans. It is no middleware of the client:
// that would wait before it asks, until all that a key has changed is drawn.
function inWhatIf(init: { params?: { query?: object } } = {}): object {
  const shown = new URLSearchParams(window.location.search).get("what_if");
  if (!shown) return init;
  return { ...init, params: { ...init.params, query: { ...init.params?.query, what_if: shown } } };
}

const METHODS = ["GET", "POST", "PUT", "DELETE"];

/** The addresses of the app: what each takes and answers is the server's to say, and a refusal is thrown. */
export const api = Object.fromEntries(
  METHODS.map((method) => [
    method.toLowerCase(),
    async (path: string, init?: object) => (await asked(method)(path, init)).data,
  ]),
) as Calls;

/** What is read of the app, kept under what was asked for: nothing is read under another address's name. */
export const server = createQueries(
  Object.fromEntries(METHODS.map((method) => [method, asked(method)])) as unknown as typeof client,
) as unknown as Queries;
