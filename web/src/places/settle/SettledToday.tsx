import type { Schemas } from "@/shared/api/client";
import { dayText, money } from "@/shared/format";
import { Button } from "@/shared/kit/Button";
import { useTakeBack } from "./useSettle";

/** What was settled today, to be taken back if it was not so. */
export function SettledToday({ settled, today }: { settled: Schemas["SettledModel"][]; today: string }) {
  const takeBack = useTakeBack();
  if (settled.length === 0) return null;
  return (
    <section aria-label="Settled today" className="mt-6">
      <h2 className="border-b border-rule-strong text-lg">Settled today</h2>
      <ul>
        {settled.map((entry) => (
          <li
            key={entry.entry}
            className="grid grid-cols-[5.2rem_1fr_auto_auto] items-center gap-x-3 border-b border-rule @2xl:grid-cols-[6.5rem_1fr_8rem_auto]"
          >
            <span>{entry.date === today ? "Today" : dayText(entry.date, today)}</span>
            <span className="truncate">{entry.name}</span>
            <span className={`text-right ${entry.amount > 0 ? "text-teal" : ""}`}>
              {entry.amount > 0 && "+"}
              {money(entry.amount, entry.currency)}
            </span>
            <Button look="link" aria-label={`Take back ${entry.name}`} onClick={() => takeBack.mutate(entry.entry)}>
              Take back
            </Button>
          </li>
        ))}
      </ul>
    </section>
  );
}
