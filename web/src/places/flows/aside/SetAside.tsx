import { type Schemas, server } from "@/shared/api/client";
import { dayText, money } from "@/shared/format";
import { Button } from "@/shared/kit/Button";
import { useView } from "@/shared/view";

export const useSetAside = () => server.useQuery("get", "/api/set-aside");

/** What is being saved for: how much is there, how much is to be there, and by when. */
export function SetAside() {
  const { openSlip } = useView();
  const data = useSetAside().data;
  if (!data) return null;
  return (
    <section aria-label="Set aside" className="mb-7">
      <div className="flex flex-wrap items-baseline gap-x-4 border-b border-rule-strong">
        <h2 className="text-lg">Set aside</h2>
        <Button look="link" onClick={() => openSlip("aside", null)}>
          Set money aside
        </Button>
      </div>
      {data.goals.length === 0 && (
        <p className="py-2 text-pencil">
          A yearly bill, or something to come: put a little by each month or payday, and it is there on its day.
        </p>
      )}
      <ul>
        {data.goals.map((goal) => (
          <Goal key={goal.flow} goal={goal} today={data.today} />
        ))}
      </ul>
    </section>
  );
}

function Goal({ goal, today }: { goal: Schemas["AsideRow"]; today: string }) {
  const { openSlip } = useView();
  const share = Math.max(0, Math.min(1, goal.so_far / Math.max(1, goal.amount)));
  return (
    <li className="border-b border-rule">
      <button
        type="button"
        onClick={() => openSlip("flow", goal.flow)}
        className="grid w-full grid-cols-[minmax(0,1fr)_auto] items-center gap-x-6 gap-y-1 py-2 text-left hover:bg-hover @2xl:grid-cols-[minmax(0,1fr)_14rem_14rem]"
      >
        <span className="min-w-0">
          <span className="font-semibold">{goal.name}</span>
          <span className="block text-sm text-pencil">
            {goal.next
              ? `${money(goal.next.amount, goal.currency)} on ${dayText(goal.next.date, today)}`
              : "all put by"}
          </span>
        </span>
        <span className="col-span-2 @2xl:col-span-1">
          <svg viewBox="0 0 240 9" className="block h-2.5 w-full" preserveAspectRatio="none" aria-hidden="true">
            <rect x="0.5" y="0.5" width="239" height="8" fill="none" stroke="var(--rule-strong)" />
            <rect x="0" y="0" width={240 * share} height="9" fill="var(--ink)" />
          </svg>
        </span>
        <span className="col-start-2 row-start-1 text-right @2xl:col-start-3">
          <strong>{money(goal.so_far, goal.currency)}</strong> of {money(goal.amount, goal.currency)}
          <span className="block text-sm text-pencil">there by {dayText(goal.by, today)}</span>
        </span>
      </button>
    </li>
  );
}
