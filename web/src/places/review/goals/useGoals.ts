import { type Schemas, server } from "@/shared/api/client";

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

export const useGoals = () => server.useQuery("get", "/api/goals");

/** Goals that the forecast met when they were last looked at, and misses now. */
export const MISSED = server.queryOptions("get", "/api/goals/missed");

/** What goals of each kind may name. */
export const useGoalChoices = () => server.useQuery("get", "/api/goals/choices");
