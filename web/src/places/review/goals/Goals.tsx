import { useQueryClient } from "@tanstack/react-query";
import { useEffect } from "react";
import { api, type Schemas } from "@/shared/api/client";
import { useHousehold } from "@/shared/api/hooks";
import { money } from "@/shared/format";
import { BackLink } from "@/shared/kit/BackLink";
import { Button } from "@/shared/kit/Button";
import { useView } from "@/shared/view";
import { GoalBar } from "./GoalBar";
import { type Goal, MISSED, useGoals } from "./useGoals";

/** What is aimed at, how far each goal has come, and where the forecast says it ends. */
export function Goals() {
  const { openSlip } = useView();
  const household = useHousehold().data;
  const { data, error } = useGoals();
  useSeen(data);
  if (error) return <p role="alert">{error.message}</p>;
  if (!data || !household) return null;
  return (
    <div className="mx-auto max-w-4xl px-4 py-4 md:px-6">
      <BackLink to="/review" name="Review" />
      <div className="flex flex-wrap items-baseline gap-x-4">
        <h1 className="text-xl">Goals</h1>
        <Button look="link" onClick={() => openSlip("goal", null)}>
          Add a goal
        </Button>
        <Button look="link" onClick={() => openSlip("shares", null)}>
          Share out the income
        </Button>
      </div>
      {data.length === 0 && (
        <p className="max-w-prose text-pencil">
          None yet. A goal is a sum, or a share of income, that you want to save, repay, give or earn, or to spend no
          more than. Here stands how far it has come, and where the forecast says it ends.
        </p>
      )}
      <ul>
        {data.map((goal) => (
          <GoalLine key={goal.id} goal={goal} currency={household.household.currency} />
        ))}
      </ul>
    </div>
  );
}

/** Looked at is looked at: how they stand is kept with the household, so that what is missed later is told once. */
function useSeen(goals: Goal[] | undefined) {
  const client = useQueryClient();
  const standing = goals && JSON.stringify(goals.map(({ id, from, met }) => [id, from, met]));
  useEffect(() => {
    if (standing === undefined) return;
    const onSeen = (missed: Schemas["MissedAnswer"]) => client.setQueryData(MISSED.queryKey, missed);
    // Where it cannot be kept, what is missed is told again.
    api.post("/api/goals/seen").then(onSeen, () => undefined);
  }, [standing, client]);
}

function GoalLine({ goal, currency }: { goal: Goal; currency: string }) {
  const { openSlip } = useView();
  const tells = goal.met ? "on course" : `${money(goal.behind, currency)} off`;
  return (
    <li className="border-b border-rule py-2">
      <button
        type="button"
        onClick={() => openSlip("goal", goal.id)}
        className="flex w-full flex-wrap items-baseline justify-between gap-x-4 text-left hover:bg-hover"
      >
        <span className="font-semibold">{goal.name}</span>
        <span className={goal.met ? "" : "font-semibold text-rust"}>{tells}</span>
      </button>
      <GoalBar goal={goal} />
      <p>{goal.sentence}</p>
      {goal.notes.map((note) => (
        <p key={note} className="text-sm text-pencil">
          {note}
        </p>
      ))}
    </li>
  );
}
