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
