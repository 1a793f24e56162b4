import { keepPreviousData } from "@tanstack/react-query";
import { type Schemas, server } from "@/shared/api/client";

export type MonthsAnswer = Schemas["MonthsAnswer"];
export type MonthsRow = Schemas["MonthsRow"];
export type MonthsCell = Schemas["CellModel"];

const apart = (data: MonthsAnswer): MonthsAnswer => ({ ...data, rows: data.rows.filter((row) => !row.is_beginning) });

/** Months from one on, of chosen accounts together. */
export function useMonths(from: string, count: number, accounts: string | null) {
  return server.useQuery(
    "get",
    "/api/months",
    { params: { query: { from, count, accounts } } },
    // What accounts begin with stands apart from what comes in and goes out.
    { placeholderData: keepPreviousData, select: apart },
  );
}
