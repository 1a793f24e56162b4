import { keepPreviousData } from "@tanstack/react-query";
import { useSearchParams } from "react-router";
import { server } from "@/shared/api/client";
import { useView } from "@/shared/view";

const PERS = ["week", "month", "quarter", "year"] as const;
export type Per = (typeof PERS)[number];

/** The stretch that Review is of: the picked days, or the week, month, quarter or year of the address. */
export function useStretch() {
  const { period, set } = useView();
  const [search] = useSearchParams();
  const per = PERS.find((known) => known === search.get("per")) ?? "month";
  const on = search.get("on") ?? undefined;
  const { data, error } = server.useQuery(
    "get",
    "/api/review/stretch",
    { params: { query: { per, ...(on && { on }) } } },
    { placeholderData: keepPreviousData },
  );
  const days = period ? { from: period.from, to: period.until } : data && { from: data.from, to: data.to };
  return {
    days,
    error,
    per,
    isPicked: Boolean(period),
    choose: (next: Per) => set({ per: next, from: null, until: null }),
    pick: (end: "from" | "until", day: string) => {
      // The other end as the address has it now: it may have been typed just before.
      const now = new URLSearchParams(window.location.search);
      const picked = { from: now.get("from") ?? days?.from ?? day, until: now.get("until") ?? days?.to ?? day };
      set({ ...picked, [end]: day });
    },
    unpick: () => set({ from: null, until: null }),
    earlier: () => data && set({ on: data.earlier, from: null, until: null }),
    later: () => data && set({ on: data.later, from: null, until: null }),
  };
}

export type Stretch = ReturnType<typeof useStretch>;
