import { api, type Schemas } from "@/shared/api/client";
import { dayText } from "@/shared/format";
import { Alert } from "@/shared/kit/Alert";
import { Button } from "@/shared/kit/Button";
import { ChooseOne } from "@/shared/kit/fields/Choice";
import { useAsking } from "./useConnections";

type Demo = Schemas["DemoAnswer"];

const MOODS: { value: Demo["mood"]; label: string }[] = [
  { value: "well", label: "answers" },
  { value: "down", label: "is closed" },
  { value: "slow", label: "is slow" },
  { value: "nonsense", label: "talks nonsense" },
];

/** In the demo: days pass when one says so, and its bank has good days and bad ones. */
export function DemoTry({ demo, today }: { demo: Demo; today: string }) {
  const pass = useAsking((days: 1 | 7) => api.post("/api/demo/day", { body: { days } }));
  const change = useAsking((mood: Demo["mood"]) => api.put("/api/demo/bank", { body: { mood } }));
  return (
    <section aria-label="To try" className="mt-3 border-l-2 border-copper pl-3">
      <p>
        This is the demo: a bank, a mailbox and rates to try answer on this computer, and nobody else sees them. It is{" "}
        {dayText(today)}.
      </p>
      <p className="flex flex-wrap items-center gap-2 py-1">
        <Button disabled={pass.isPending} onClick={() => pass.mutate(1)}>
          Let a day pass
        </Button>
        <Button disabled={pass.isPending} onClick={() => pass.mutate(7)}>
          Let a week pass
        </Button>
        <span className="md:ml-3">The bank</span>
        <ChooseOne
          label="The bank to try"
          value={demo.mood}
          onChange={(mood) => change.mutate(mood as Demo["mood"])}
          options={MOODS}
        />
      </p>
      <Alert error={pass.error ?? change.error} />
    </section>
  );
}
