import { CalendarDays, Glasses, Landmark, ListChecks, Repeat2, TrendingDown } from "lucide-react";

/** The places of the app, with the key that leads to each. */
export const PLACES = [
  { path: "/ahead", name: "Ahead", key: "1", icon: CalendarDays },
  { path: "/settle", name: "Settle", key: "2", icon: ListChecks },
  { path: "/flows", name: "Flows", key: "3", icon: Repeat2 },
  { path: "/debts", name: "Debts", key: "4", icon: TrendingDown },
  { path: "/review", name: "Review", key: "5", icon: Glasses },
  { path: "/accounts", name: "Accounts", key: "6", icon: Landmark },
] as const;

/** The first pages of the places but the one that the app opens with, each loaded when it is first asked for. */
export const firstPages = {
  settle: async () => (await import("@/places/settle/Settle")).Settle,
  flows: async () => (await import("@/places/flows/Flows")).Flows,
  debts: async () => (await import("@/places/debts/Debts")).Debts,
  review: async () => (await import("@/places/review/Review")).Review,
  accounts: async () => (await import("@/places/accounts/Accounts")).Accounts,
};

/** Load them ahead, so that a tab opens at once. One that cannot be had now is asked for again when it is opened. */
export async function loadFirstPages() {
  await Promise.allSettled(Object.values(firstPages).map((load) => load()));
}
