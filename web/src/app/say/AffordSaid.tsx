import { AffordTold } from "@/places/ahead/short/Afford";
import type { Schemas } from "@/shared/api/client";
import { useAccounts, useHousehold } from "@/shared/api/hooks";

/** Whether it can be afforded, as the page of days says it. */
export function AffordSaid({ question }: { question: Schemas["AffordRequest"] }) {
  const accounts = useAccounts().data?.accounts ?? [];
  const today = useHousehold().data?.today ?? "";
  const account = accounts.find((oneAccount) => oneAccount.account.id === question.account)?.account;
  return <AffordTold asked={question} currency={account?.currency ?? "USD"} today={today} />;
}
