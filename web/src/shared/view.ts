/** What the page looks at, kept in the address so that every view can be bookmarked and the back button works. */
import { addMonths, addWeeks } from "date-fns";
import { useCallback, useMemo } from "react";
import { useSearchParams } from "react-router";
import { civil, iso, plusDays } from "./format";

export const SPANS = ["6w", "3m", "6m", "1y", "2y", "5y", "10y"] as const;
export type Span = (typeof SPANS)[number];
export const SPAN_NAMES: Record<Span, string> = {
  "6w": "6 weeks",
  "3m": "3 months",
  "6m": "6 months",
  "1y": "1 year",
  "2y": "2 years",
  "5y": "5 years",
  "10y": "10 years",
};

/** Whether a text of the address is a day that exists. */
const isDay = (text: string | null): text is string =>
  text !== null &&
  /^\d{4}-\d{2}-\d{2}$/.test(text) &&
  !Number.isNaN(civil(text).getTime()) &&
  iso(civil(text)) === text;

/** Two days of the address, in order; null where one of them cannot be read. */
function readDays(from: string | null, until: string | null): { from: string; until: string } | null {
  if (!isDay(from) || !isDay(until)) return null;
  return from <= until ? { from, until } : { from: until, until: from };
}

function spanEnd(today: string, span: Span): string {
  const count = Number.parseInt(span, 10);
  if (span.endsWith("w")) return iso(addWeeks(civil(today), count));
  return iso(addMonths(civil(today), span.endsWith("m") ? count : 12 * count));
}

/** The days of the tideline: a seventh of the span behind today, the whole span ahead. */
export function spanDays(today: string, span: Span): { from: string; until: string } {
  const until = spanEnd(today, span);
  const ahead = (civil(until).getTime() - civil(today).getTime()) / 864e5;
  return { from: plusDays(today, -Math.round(ahead / 7)), until };
}

const SLIPS = [
  "flow",
  "account",
  "household",
  "goal",
  "rate",
  "shares",
  "allowance",
  "limits",
  "entry",
  "category",
  "once",
  "aside",
  "loan",
] as const;

/** The slip that is open: what kind of thing, and which one (or what a new one starts as). */
export interface SlipAddress {
  kind: (typeof SLIPS)[number];
  id: string | null;
  start: string;
}

function readSlip(text: string | null): SlipAddress | null {
  const [name, id = "", ...rest] = (text ?? "").split(":");
  const start = rest.join(":");
  const kind = SLIPS.find((known) => known === name);
  if (!kind) return null;
  return { kind, id: id === "new" || id === "" ? null : decodeURIComponent(id), start };
}

export function useView() {
  const [search, setSearch] = useSearchParams();
  const set = useCallback(
    (values: Record<string, string | null>, replace = true) => {
      // From the address as it is now: a view rendered earlier may know an older one.
      const next = new URLSearchParams(window.location.search);
      for (const [name, value] of Object.entries(values)) {
        if (value === null) next.delete(name);
        else next.set(name, value);
      }
      setSearch(next, { replace });
    },
    [setSearch],
  );
  return useMemo(() => {
    const span = search.get("span") as Span;
    return {
      span: SPANS.includes(span) ? span : "6w",
      accounts: search.get("accounts")?.split(",").filter(Boolean) ?? [],
      period: readDays(search.get("from"), search.get("until")),
      /** Days looked at more or less closely than the span shows. */
      zoom: readDays(search.get("left"), search.get("right")),
      /** Whether several accounts have a line each. */
      each: search.get("lines") === "each",
      slip: readSlip(search.get("slip")),
      search: search.toString(),
      filters: {
        search: search.get("q") ?? "",
        category: search.get("category") ?? "",
        from: search.get("since") ?? "",
        until: search.get("to") ?? "",
      },
      set,
      openSlip: (kind: SlipAddress["kind"], id: string | null, start = "") =>
        set({ slip: `${kind}:${id === null ? "new" : encodeURIComponent(id)}${start ? `:${start}` : ""}` }, false),
      /** Close the slip that this view shows; one opened since stays. */
      closeSlip: () => {
        if (new URLSearchParams(window.location.search).get("slip") === search.get("slip")) set({ slip: null });
      },
    };
  }, [search, set]);
}

/** The part of the address that stays when moving to another place. */
export function keptSearch(search: string): string {
  const query = new URLSearchParams(search);
  for (const name of [
    "slip",
    "q",
    "category",
    "since",
    "to",
    "way",
    "month",
    "months",
    "year",
    "beside",
    "years",
    "kind",
    "for",
    "variants",
    "per",
    "on",
    "first",
  ])
    query.delete(name);
  return query.toString();
}
