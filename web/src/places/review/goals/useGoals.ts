import { useQuery } from "@tanstack/react-query";
import { answer, api, type Schemas } from "@/shared/api/client";

export type Goal = Schemas["GoalAnswer"];
export type GoalKind = Goal["kind"];

/** What a goal is to do, as it is said. */
export const KINDS: readonly { value: GoalKind; label: string }[] = [
  { value: "save", label: "save" },
  { value: "repay", label: "repay" },
  { value: "spend_at_most", label: "spend no more than" },
  { value: "give", label: "give" },
  { value: "earn", label: "earn" },
];

export function useGoals() {
  return useQuery({ queryKey: ["goals"], queryFn: () => answer<Goal[]>(api.GET("/api/goals")) });
}

/** What goals of each kind may name. */
export function useGoalChoices() {
  return useQuery({
    queryKey: ["goal-choices"],
    queryFn: () => answer<Schemas["GoalChoice"][]>(api.GET("/api/goals/choices")),
  });
}
