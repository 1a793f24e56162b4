import { useMutation } from "@tanstack/react-query";
import { type ReactNode, useState } from "react";
import { api, type Schemas } from "@/shared/api/client";
import { dayText, money, rateText, readAmount } from "@/shared/format";
import { AmountGap, Question } from "@/shared/kit/Question";
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
      <Reverse
        ask="ends_by"
        source={source}
        currency={currency}
        given={{ by }}
        say={(answered) =>
          answered.extra === 0
            ? "It ends by then without any extra."
            : `${money(answered.extra ?? 0, currency)} with every payment: it ends on ${dayText(answered.paid_off ?? "", "0")}.`
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
      </Reverse>
      <Reverse
        ask="borrow"
        source={source}
        currency={currency}
        given={{ payment: afford }}
        say={(answered) => `${money(answered.principal ?? 0, currency)} at this rate over as many payments.`}
      >
        How much can be borrowed for a payment of
        <AmountGap label="Payment to borrow for" value={afford} onChange={setAfford} />
      </Reverse>
      <Reverse
        ask="rate"
        source={source}
        currency={currency}
        given={{ payment: asked }}
        say={(answered) => `${rateText(answered.annual_rate)}% a year, at most.`}
      >
        What rate makes the payment
        <AmountGap label="Payment to find the rate of" value={asked} onChange={setAsked} />
      </Reverse>
    </section>
  );
}

interface ReverseProps {
  ask: Ask;
  source: Source;
  currency: string;
  given: { by?: string; payment?: string };
  say: (answered: Told) => string;
  children: ReactNode;
}

function Reverse({ ask, source, currency, given, say, children }: ReverseProps) {
  const read = given.payment === undefined ? null : readAmount(given.payment, currency);
  const reverse = useMutation({
    mutationFn: () => {
      if (read && "problem" in read) throw new Error(read.problem);
      return api.post("/api/debts/reverse", {
        body: {
          ask,
          ...("account" in source ? source : { loan: source.loan }),
          by: given.by || null,
          payment: read?.amount ?? null,
        },
      });
    },
  });
  return (
    <Question ask={reverse} saying={reverse.data && say(reverse.data)}>
      {children}
    </Question>
  );
}
