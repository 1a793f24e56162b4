import type { Schemas } from "@/shared/api/client";

/** The currency of one of the accounts that are looked at. */
export const currencyOf = (ahead: Schemas["AheadAnswer"], account: string): string =>
  ahead.accounts.find(({ id }) => id === account)?.currency ?? "USD";
