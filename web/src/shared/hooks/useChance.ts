import { useQueries, useQuery } from "@tanstack/react-query";
import { addYears } from "date-fns";
import { type Schemas, server } from "@/shared/api/client";
import { civil, iso } from "@/shared/format";

export type Chance = Schemas["ChanceAnswer"];

/** How sure some accounts together are from today until a day (ten years at most); undefined until it is known. */
export const useChance = (accounts: readonly string[], today: string, until: string, isWanted = true) =>
  useQuery(asking(accounts, today, until, isWanted)).data;

/** The same of accounts one by one, as far as it is known; and whether more is still to come. */
export function useChances(accounts: readonly string[], today: string, until: string) {
  const asked = useQueries({ queries: accounts.map((account) => asking([account], today, until, true)) });
  return { chances: asked.flatMap(({ data }) => data ?? []), isLoading: asked.some(({ isLoading }) => isLoading) };
}

function asking(accounts: readonly string[], today: string, until: string, isWanted: boolean) {
  const furthest = today && iso(addYears(civil(today), 10));
  const last = until < furthest ? until : furthest;
  const named = accounts.join(",");
  return server.queryOptions(
    "get",
    "/api/chance",
    { params: { query: { accounts: named, until: last } } },
    { enabled: isWanted && named !== "" && today !== "" && last >= today, retry: false },
  );
}
