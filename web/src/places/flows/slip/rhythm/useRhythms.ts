import { useQuery } from "@tanstack/react-query";
import { answer, api, type Schemas } from "@/shared/api/client";
import type { Rule } from "./rhythm";

/** Rules as rhythms, where they are some: the app reads those that the plan has. undefined while it does. */
export function useRhythms(rules: readonly Rule[], start: string): (Rule | undefined)[] {
  const texts = rules.filter((rule) => typeof rule === "string");
  const { data } = useQuery({
    queryKey: ["rhythms", texts, start],
    enabled: texts.length > 0 && start !== "",
    staleTime: Number.POSITIVE_INFINITY,
    queryFn: () => answer<Schemas["RhythmsAnswer"]>(api.POST("/api/tools/rhythms", { body: { rules: texts, start } })),
  });
  return rules.map((rule) => {
    if (typeof rule !== "string") return rule;
    return data ? (data.rhythms[texts.indexOf(rule)] ?? rule) : undefined;
  });
}
