import { type Schemas, server } from "@/shared/api/client";

export type Rates = Schemas["RatesAnswer"];

/** The exchange rates that were typed, and the pairs that totals need. */
export const useRates = () => server.useQuery("get", "/api/rates");
