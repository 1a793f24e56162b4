import { useQuery } from "@tanstack/react-query";
import { addYears } from "date-fns";
import { answer, api, type Schemas } from "@/shared/api/client";
import { civil, iso } from "@/shared/format";

export type Chance = Schemas["ChanceAnswer"];

/** How sure some accounts together are from today until a day (ten years at most); undefined until it is known. */
export function useChance(accounts: readonly string[], today: string, until: string, isWanted = true) {
  const furthest = today && iso(addYears(civil(today), 10));
  const last = until < furthest ? until : furthest;
  const named = accounts.join(",");
  return useQuery({
    queryKey: ["chance", named, today, last],
    enabled: isWanted && named !== "" && today !== "" && last >= today,
    retry: false,
    queryFn: ({ signal }) =>
      answer<Chance>(api.GET("/api/chance", { params: { query: { accounts: named, until: last } }, signal })),
  }).data;
}
