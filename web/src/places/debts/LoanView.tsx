import { useMemo, useState } from "react";
import type { Schemas } from "@/shared/api/client";
import { plusDays } from "@/shared/format";
import { Alternatives, PLAIN, useAlternatives, type VariantForm } from "./Alternatives";
import { type Course, LoanChart } from "./LoanChart";
import { Questions } from "./Questions";
import { Schedule } from "./Schedule";
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
  const [forms, setForms] = useState<VariantForm[]>([PLAIN]);
  const [horizon, setHorizon] = useState("60");
  const [laid, setLaid] = useState<number | null>(null);
  const alternatives = useAlternatives(source, forms, horizon, currency).data;
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
  const other = shown === null ? null : (outcomes[shown] ?? null);
  const middle = plusDays(today, 365 * 10);
  return (
    <>
      {answer.notes.map((note) => (
        <p key={note} className="mt-1 border-l-2 border-rust pl-3">
          {note}
        </p>
      ))}
      <LoanChart course={course} other={other} begin={begin} opening={opening} today={today} currency={currency} />
      <Alternatives
        forms={forms}
        outcomes={outcomes}
        currency={currency}
        horizon={horizon}
        isTried={!("account" in source)}
        laid={laid}
        onForms={setForms}
        onHorizon={setHorizon}
        onLay={setLaid}
        extraMost={Math.max(500_00, Math.round(answer.payment / 100_00) * 100_00)}
      />
      <Questions source={source} currency={currency} byDay={earlier(answer.paid_off, middle)} />
      <Schedule
        rows={answer.rows}
        years={answer.by_year}
        source={source}
        settled={settled}
        today={today}
        currency={currency}
      />
    </>
  );
}

const earlier = (one: string, other: string): string => [one, other].sort()[0] ?? one;

function lastChanged(forms: VariantForm[]): number | null {
  const text = JSON.stringify(PLAIN);
  for (let place = forms.length; place > 0; place -= 1) if (JSON.stringify(forms[place - 1]) !== text) return place;
  return null;
}
