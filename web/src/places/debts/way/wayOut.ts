import { keepPreviousData, useQuery } from "@tanstack/react-query";
import { addMonths, format } from "date-fns";
import { useEffect, useState } from "react";
import { api, type Schemas, server } from "@/shared/api/client";
import { civil } from "@/shared/format";

export type Asked = Schemas["AskedDocument"];
export type Way = Schemas["HouseholdPayoff"];
/** What the picture of it needs, asked for with every move of the slider. */
export type Picture = Schemas["PayoffPicture"];
/** What is owed on each debt at the end of a month, in the order of the picture's debts. */
export type Column = Schemas["OwedMonthModel"];
export type Choice = NonNullable<Asked["strategy"]>;
export type Progress = Schemas["ProgressModel"];

export const ORDERS: { value: Choice; label: string }[] = [
  { value: "highest_rate", label: "Highest rate first" },
  { value: "smallest_balance", label: "Smallest balance first" },
  { value: "custom", label: "My own order" },
  { value: "cheapest", label: "Cheapest" },
  { value: "minimums", label: "Minimums only" },
];
export const ORDER_NAMES = Object.fromEntries(ORDERS.map((order) => [order.value, order.label])) as Record<
  Choice,
  string
>;

/** What is asked where nothing is: everything owed, the highest rate first, from this month on. */
export const PLAIN_ASKED: Asked = {
  order: [],
  extra_monthly: 0,
  one_time: [],
  extra_changes: [],
  roll_freed: true,
  strategy: "highest_rate",
  cap: "none",
  want: [],
};

/** What is asked, from the address; null where it says nothing that can be read. */
export function readAsked(text: string | null): Asked | null {
  if (!text) return null;
  try {
    return asAsked(JSON.parse(text));
  } catch {
    return null;
  }
}

/** What was kept of what is asked; null where nothing was. */
export const asAsked = (stored: unknown): Asked | null =>
  typeof stored === "object" && stored !== null && !Array.isArray(stored) ? { ...PLAIN_ASKED, ...stored } : null;

/** `2027-03` and so many months after it. */
export const monthsFrom = (month: string, count: number): { value: string; label: string }[] =>
  Array.from({ length: count }, (_, later) => addMonths(civil(`${month}-01`), later)).map((day) => ({
    value: format(day, "yyyy-MM"),
    label: format(day, "MMM yyyy"),
  }));

/** The picture of the way out as asked; what stood before stays in sight until the answer is there. */
export function usePicture(asked: Asked) {
  return server.useQuery(
    "post",
    "/api/payoff/picture",
    { body: asked },
    {
      placeholderData: keepPreviousData,
      retry: false,
      // Comparing one answer with the next, or keeping them all, costs more than it saves.
      structuralSharing: false,
      gcTime: 10_000,
    },
  );
}

/** All of it, once the hand has rested, with what was asked for it. */
export function useWay(asked: Asked, rest = 250) {
  const [rested, setRested] = useState(asked);
  useEffect(() => {
    const later = setTimeout(() => setRested(asked), rest);
    return () => clearTimeout(later);
  }, [asked, rest]);
  return useQuery({
    queryKey: ["way-out", rested],
    placeholderData: keepPreviousData,
    retry: false,
    structuralSharing: false,
    queryFn: async ({ signal }) => ({
      asked: rested,
      way: await api.post("/api/payoff", { body: rested, signal }),
    }),
  });
}

export function useProgress() {
  return server.useQuery("get", "/api/payoff/progress");
}

/** Where the table and the printed page are, for what is asked. */
export const askedQuery = (asked: Asked): string => `asked=${encodeURIComponent(JSON.stringify(asked))}`;
