import { useQuery } from "@tanstack/react-query";
import { answer, api, type Schemas } from "@/shared/api/client";

export type Rates = Schemas["RatesAnswer"];

/** The exchange rates that were typed, and the pairs that totals need. */
export const useRates = () => useQuery({ queryKey: ["rates"], queryFn: () => answer<Rates>(api.GET("/api/rates")) });
