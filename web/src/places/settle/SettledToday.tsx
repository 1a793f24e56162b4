import type { ReactNode } from "react";
import type { Schemas } from "@/shared/api/client";
import { dayText, money } from "@/shared/format";
import { Button } from "@/shared/kit/Button";
import { useTakeBack } from "./useSettle";

interface Props {
  settled: Schemas["SettledModel"][];
  leftOut: Schemas["LeftOutModel"][];
  today: string;
}

/** What was settled today or left out lately, to be taken back if it was not so. */
export function SettledToday({ settled, leftOut, today }: Props) {
  const takeBack = useTakeBack();
  const onDay = (date: string) => (date === today ? "Today" : dayText(date, today));
  return (
    <>
      <Lines title="Settled today" count={settled.length}>
        {settled.map(({ entry, date, name, amount, currency }) => (
          <Line
            key={entry}
            day={onDay(date)}
            name={name}
            amount={`${amount > 0 ? "+" : ""}${money(amount, currency)}`}
            isIn={amount > 0}
            onTakeBack={() => takeBack.mutate({ op: "remove", kind: "entry", id: entry })}
          />
        ))}
      </Lines>
      <Lines title="Left out" count={leftOut.length}>
        {leftOut.map(({ flow, nominal, name, amount, currency }) => (
          <Line
            key={`${flow} ${nominal}`}
            day={onDay(nominal)}
            name={name}
            amount={amount === null ? "" : money(amount, currency)}
            onTakeBack={() =>
              takeBack.mutate({ op: "once", kind: "flow", id: flow, nominal, value: { left_out: false } })
            }
          />
        ))}
      </Lines>
    </>
  );
}

function Lines({ title, count, children }: { title: string; count: number; children: ReactNode }) {
  if (count === 0) return null;
  return (
    <section aria-label={title} className="mt-6">
      <h2 className="border-b border-rule-strong text-lg">{title}</h2>
      <ul>{children}</ul>
    </section>
  );
}

interface LineProps {
  day: string;
  name: string;
  amount: string;
  isIn?: boolean;
  onTakeBack: () => void;
}

function Line({ day, name, amount, isIn = false, onTakeBack }: LineProps) {
  return (
    <li className="grid grid-cols-[5.2rem_1fr_auto_auto] items-center gap-x-3 border-b border-rule @2xl:grid-cols-[9rem_1fr_8rem_auto]">
      <span>{day}</span>
      <span className="min-w-0 break-words">{name}</span>
      <span className={`text-right ${isIn ? "text-teal" : ""}`}>{amount}</span>
      <Button look="link" data-take-back aria-label={`Take back ${name}, ${day}`} onClick={onTakeBack}>
        Take back
      </Button>
    </li>
  );
}
