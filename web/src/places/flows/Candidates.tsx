import { api, type Schemas, server } from "@/shared/api/client";
import { useAct } from "@/shared/api/hooks";
import { dayText, money } from "@/shared/format";
import { Button } from "@/shared/kit/Button";
import { useView } from "@/shared/view";

/** What repeats among recorded entries and is in no flow yet: made one with a press, or left out for good. */
export function Candidates() {
  const data = server.useQuery("get", "/api/candidates").data;
  if (!data || data.candidates.length === 0) return null;
  return (
    <section aria-label="Seen repeating" className="mb-7">
      <div className="flex flex-wrap items-baseline gap-x-4 border-b border-rule-strong">
        <h2 className="text-lg">Seen repeating</h2>
        <p className="text-sm text-pencil">Recorded again and again, and not in the plan yet.</p>
      </div>
      <ul>
        {data.candidates.map((candidate) => (
          <Line key={candidate.key} seen={candidate} today={data.today} />
        ))}
      </ul>
    </section>
  );
}

function Line({ seen, today }: { seen: Schemas["CandidateModel"]; today: string }) {
  const { openSlip } = useView();
  const decline = useAct(() => api.post("/api/candidates/decline", { body: { key: seen.key, payee: seen.payee } }));
  return (
    <li className="flex flex-wrap items-center gap-x-6 gap-y-1 border-b border-rule py-1.5">
      <span className="min-w-52 flex-1">
        <span className="font-semibold">{seen.payee}</span>
        <span className="block text-sm text-pencil">
          {seen.times} times, {seen.sentence}; next {dayText(seen.first, today)}
        </span>
      </span>
      <span className={seen.kind === "income" ? "text-teal" : ""}>
        {seen.is_estimate && "about "}
        {money(seen.amount, seen.currency)}
      </span>
      <span className="flex gap-1">
        <Button
          className="!min-h-9"
          onClick={() => openSlip("flow", null, ["seen", ...seen.entries.slice(-12)].join("~"))}
        >
          Make it a flow
        </Button>
        <Button look="link" className="!min-h-9" onClick={() => decline.mutate(undefined)}>
          Not in the plan
        </Button>
      </span>
    </li>
  );
}
