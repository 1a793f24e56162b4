import { keepPreviousData, useQuery } from "@tanstack/react-query";
import { answer, api, type Schemas } from "@/shared/api/client";

export type MonthsAnswer = Schemas["MonthsAnswer"];
export type MonthsRow = Schemas["MonthsRow"];
export type MonthsCell = Schemas["CellModel"];

const apart = (data: MonthsAnswer): MonthsAnswer => ({ ...data, rows: data.rows.filter((row) => !row.is_beginning) });

/** Months from one on, of chosen accounts together. */
export function useMonths(from: string, count: number, accounts: string | null) {
  return useQuery({
    queryKey: ["months", from, count, accounts],
    placeholderData: keepPreviousData,
    // What accounts begin with stands apart from what comes in and goes out.
    select: apart,
    queryFn: ({ signal }) =>
      answer<MonthsAnswer>(api.GET("/api/months", { params: { query: { from, count, accounts } }, signal })),
  });
}
