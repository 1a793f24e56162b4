import { server } from "@/shared/api/client";
import type { Rule } from "./rhythm";

/** Rules as rhythms, where they are some: the app reads those that the plan has. undefined while it does. */
export function useRhythms(rules: readonly Rule[], start: string): (Rule | undefined)[] {
  const texts = rules.filter((rule) => typeof rule === "string");
  const { data } = server.useQuery(
    "post",
    "/api/tools/rhythms",
    { body: { rules: texts, start } },
    { enabled: texts.length > 0 && start !== "", staleTime: Number.POSITIVE_INFINITY },
  );
  return rules.map((rule) => {
    if (typeof rule !== "string") return rule;
    return data ? (data.rhythms[texts.indexOf(rule)] ?? rule) : undefined;
  });
}
