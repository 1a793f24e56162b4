import { useMutation } from "@tanstack/react-query";
import { type FormEvent, type ReactNode, useState } from "react";
import { answer, api, type Schemas } from "@/shared/api/client";
import { dayText, money, readAmount } from "@/shared/format";
import { Button } from "@/shared/kit/Button";
import type { Source } from "./Why";

type Ask = Schemas["ReverseRequest"]["ask"];
type Told = Schemas["ReverseAnswer"];

/** The sums turned round: what extra, how much, at what rate. */
export function Questions({ source, currency, byDay }: { source: Source; currency: string; byDay: string }) {
  const [by, setBy] = useState(byDay);
  const [afford, setAfford] = useState("");
  const [asked, setAsked] = useState("");
  return (
    <section aria-label="Asked the other way round" className="mt-8">
      <h2 className="border-b border-rule-strong text-lg">Asked the other way round</h2>
      <Question
        ask="ends_by"
        source={source}
        currency={currency}
        given={{ by }}
        say={(told) =>
          told.extra === 0
            ? "It ends by then without any extra."
            : `${money(told.extra ?? 0, currency)} with every payment: it ends on ${dayText(told.paid_off ?? "", "0")}.`
        }
      >
        What extra ends it by
        <input
          type="date"
          aria-label="Ends by"
          value={by}
          onChange={(event) => setBy(event.target.value)}
          className="field !w-44"
        />
      </Question>
      <Question
        ask="borrow"
        source={source}
        currency={currency}
        given={{ payment: afford }}
        say={(told) => `${money(told.principal ?? 0, currency)} at this rate over as many payments.`}
      >
        How much can be borrowed for a payment of
        <Amount label="Payment to borrow for" value={afford} onChange={setAfford} />
      </Question>
      <Question
        ask="rate"
        source={source}
        currency={currency}
        given={{ payment: asked }}
        say={(told) => `${told.annual_rate}% a year, at most.`}
      >
        What rate makes the payment
        <Amount label="Payment to find the rate of" value={asked} onChange={setAsked} />
      </Question>
    </section>
  );
}

function Amount({ label, value, onChange }: { label: string; value: string; onChange: (value: string) => void }) {
  return (
    <input
      aria-label={label}
      inputMode="decimal"
      value={value}
      onChange={(event) => onChange(event.target.value)}
      className="field !w-36 text-right"
    />
  );
}

interface QuestionProps {
  ask: Ask;
  source: Source;
  currency: string;
  given: { by?: string; payment?: string };
  say: (told: Told) => string;
  children: ReactNode;
}

function Question({ ask, source, currency, given, say, children }: QuestionProps) {
  const read = given.payment === undefined ? null : readAmount(given.payment, currency);
  const reverse = useMutation({
    mutationFn: () =>
      answer<Told>(
        api.POST("/api/debts/reverse", {
          body: {
            ask,
            ...("account" in source ? source : { loan: source.loan }),
            by: given.by || null,
            payment: read && "amount" in read ? read.amount : null,
          },
        }),
      ),
  });
  const onSubmit = (event: FormEvent) => {
    event.preventDefault();
    reverse.mutate();
  };
  const problem = reverse.error?.message;
  return (
    <form onSubmit={onSubmit} className="flex flex-wrap items-center gap-x-3 gap-y-1 border-b border-rule py-2">
      {children}
      <Button type="submit" className="!min-h-9">
        Work it out
      </Button>
      <output className={problem ? "text-rust" : "font-semibold"}>
        {problem ?? (reverse.data && say(reverse.data))}
      </output>
    </form>
  );
}
