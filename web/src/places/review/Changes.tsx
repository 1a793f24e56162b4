import { keepPreviousData } from "@tanstack/react-query";
import { useState } from "react";
import { api, type Schemas, server } from "@/shared/api/client";
import { useAct, useHousehold } from "@/shared/api/hooks";
import { dayText, money } from "@/shared/format";
import { BackLink } from "@/shared/kit/BackLink";
import { Button } from "@/shared/kit/Button";

type Step = Schemas["StepModel"];

const AT_FIRST = 50;
const MOST = 1000;

/** The household's history of changes by day, what each did to the lowest point ahead, and undoing back to any. */
export function Changes() {
  const [count, setCount] = useState(AT_FIRST);
  const household = useHousehold().data;
  const { data, error } = server.useQuery(
    "get",
    "/api/history/steps",
    { params: { query: { count } } },
    { placeholderData: keepPreviousData },
  );
  if (error) return <p role="alert">{error.message}</p>;
  if (!data || !household) return null;
  return (
    <div className="mx-auto max-w-4xl px-4 py-4 md:px-6">
      <BackLink to="/review" name="Review" />
      <h1 className="text-xl">What changed</h1>
      {data.length === 0 ? (
        <p className="text-pencil">Nothing yet. Whatever you change stands here, and can be undone back to.</p>
      ) : (
        byDay(data).map(({ day, steps }) => (
          <section key={day} className="mt-4">
            <h2 className="text-lg">{day ? dayText(day, household.today) : "Earlier"}</h2>
            <ul>
              {steps.map((step) => (
                <StepLine key={step.id} step={step} data={data} currency={household.household.currency} />
              ))}
            </ul>
          </section>
        ))
      )}
      {data.length >= count && count < MOST && (
        <Button look="link" onClick={() => setCount(MOST)}>
          Older changes
        </Button>
      )}
    </div>
  );
}

/** Steps come newest first; those of one day together. */
function byDay(steps: readonly Step[]) {
  const days: { day: string; steps: Step[] }[] = [];
  for (const step of steps) {
    const day = step.at?.slice(0, 10) ?? "";
    const last = days.at(-1);
    if (last?.day === day) last.steps.push(step);
    else days.push({ day, steps: [step] });
  }
  return days;
}

function StepLine({ step, data, currency }: { step: Step; data: readonly Step[]; currency: string }) {
  const undo = useAct(() => api.post("/api/history/steps/{step}/undo", { params: { path: { step: step.id } } }));
  const later = data.filter((other) => other.id > step.id && !other.undone).length;
  const text = later > 0 ? `Undo it and ${later} later` : "Undo";
  return (
    <li className="flex flex-wrap items-baseline gap-x-3 border-b border-rule py-1">
      <span className="w-12 text-sm text-pencil">{step.at?.slice(11, 16)}</span>
      <span className="min-w-52 flex-1">
        <span className={step.undone ? "text-pencil line-through" : ""}>{step.sentence}</span>
        {step.undone && <span className="ml-2 text-sm text-pencil">undone</span>}
        <Effect step={step} currency={currency} />
      </span>
      {!step.undone && (
        <Button
          look="link"
          className="!min-h-8"
          aria-label={`${text}: ${step.sentence}`}
          disabled={undo.isPending}
          onClick={() => undo.mutate(undefined)}
        >
          {text}
        </Button>
      )}
    </li>
  );
}

/** What a change did to the lowest point then ahead. */
function Effect({ step, currency }: { step: Step; currency: string }) {
  const { before, after } = step.lowest ?? {};
  if (!after || (before?.balance === after.balance && before.date === after.date)) return null;
  const low = (point: Schemas["LowModel"]) => `${money(point.balance, currency)} on ${dayText(point.date)}`;
  return (
    <span className="block text-sm text-pencil">
      Lowest ahead: {low(after)}
      {before ? `; before, ${low(before)}` : ""}
    </span>
  );
}
