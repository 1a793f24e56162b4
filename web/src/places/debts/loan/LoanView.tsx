import { useMemo, useState } from "react";
import type { Schemas } from "@/shared/api/client";
import { money, monthOf, plusDays } from "@/shared/format";
import { Alternatives, hasProblem, useAlternatives } from "./Alternatives";
import { type Course, LoanChart } from "./LoanChart";
import { Questions } from "./Questions";
import { Schedule } from "./Schedule";
import { lastChanged, useVariants } from "./variants";
import type { Source } from "./Why";

interface Props {
  answer: Schemas["LoanScheduleAnswer"];
  source: Source;
  settled: string[];
  begin: string;
  opening: number;
  today: string;
  currency: string;
}

/** One loan, of the household or tried: its picture, alternatives, questions and schedule. */
export function LoanView({ answer, source, settled, begin, opening, today, currency }: Props) {
  const [forms, setForms] = useVariants();
  const [horizon, setHorizon] = useState("60");
  const [laid, setLaid] = useState<number | null>(null);
  const { data: alternatives, problems, isLoading } = useAlternatives(source, forms, horizon, currency);
  const outcomes = alternatives?.outcomes ?? [];
  const course = useMemo<Course>(
    () => ({
      name: "As it is",
      due: answer.rows.map((row) => row.due),
      balance: answer.rows.map((row) => row.balance),
      interest: answer.rows.map((row) => row.interest),
      principal: answer.rows.map((row) => row.principal + row.extra),
    }),
    [answer],
  );
  // In copper: the variant that is laid over the plan, or else the last one that differs.
  const shown = laid ?? lastChanged(forms);
  const isUnread = shown !== null && hasProblem(problems, shown);
  const other = shown === null || isUnread ? null : (outcomes[shown] ?? null);
  const middle = plusDays(today, 365 * 10);
  // What stands beside the picture is there with it: nothing moves down once one reads.
  if (isLoading) return null;
  return (
    <>
      {answer.notes.map((note) => (
        <p key={note} className="mt-1 border-l-2 border-rust pl-3">
          {note}
        </p>
      ))}
      <div>
        {/* While an extra is dragged further down, the answer and the picture stay in sight. */}
        <div className="sticky top-0 z-10 border-b border-rule bg-paper">
          <LoanChart course={course} other={other} begin={begin} opening={opening} today={today} currency={currency}>
            {isUnread ? (
              <span className="text-rust">Variant {shown}: a field below cannot be taken as it is.</span>
            ) : (
              <Answer base={outcomes[0]} other={other} currency={currency} />
            )}
          </LoanChart>
        </div>
        <Alternatives
          forms={forms}
          outcomes={outcomes}
          problems={problems}
          currency={currency}
          horizon={horizon}
          isTried={!("account" in source)}
          laid={laid}
          onForms={setForms}
          onHorizon={setHorizon}
          onLay={setLaid}
          extraMost={alternatives?.extra_most ?? answer.payment}
          most={alternatives?.most_variants ?? 0}
        />
      </div>
      <Questions source={source} currency={currency} byDay={earlier(answer.paid_off, middle)} />
      <Schedule answer={answer} source={source} settled={settled} today={today} currency={currency} />
    </>
  );
}

const earlier = (one: string, other: string): string => [one, other].sort()[0] ?? one;

type Outcome = Schemas["OutcomeModel"];

/** What the variant that is drawn comes to, in one sentence. */
function Answer({ base, other, currency }: { base: Outcome | undefined; other: Outcome | null; currency: string }) {
  if (!base) return null;
  const end = (outcome: Outcome) => (outcome.never_ends ? "never paid off" : `paid off ${monthOf(outcome.paid_off)}`);
  if (!other)
    return (
      <>
        As it is: <strong>{end(base)}</strong>, {money(base.total_interest, currency)} interest still to pay
      </>
    );
  if (other.problem) return <span className="text-rust">{other.problem}</span>;
  const saved = other.saves_interest;
  return (
    <span className="text-copper">
      {other.name}: <strong>{end(other)}</strong> (as it is {base.never_ends ? "never" : monthOf(base.paid_off)}),{" "}
      <strong>{money(Math.abs(saved), currency)}</strong> {saved >= 0 ? "interest saved" : "more interest"}
    </span>
  );
}
