import { useMutation } from "@tanstack/react-query";
import { useState } from "react";
import { api, type Schemas } from "@/shared/api/client";
import { useAccounts } from "@/shared/api/hooks";
import { dayText, money, monthOf, readAmount } from "@/shared/format";
import { Select } from "@/shared/kit/fields/Select";
import { AmountGap, Question } from "@/shared/kit/Question";
import { type Asked, monthsFrom, type Way } from "./wayOut";

interface Props {
  way: Way;
  asked: Asked;
}

/** The sums turned round. */
export function WayQuestions({ way, asked }: Props) {
  return (
    <section aria-label="Asked the other way round" className="mt-8">
      <h2 className="border-b border-rule-strong text-lg">Asked the other way round</h2>
      <ByMonth way={way} asked={asked} />
      <SumWorth way={way} asked={asked} />
      <OrSavings way={way} asked={asked} />
    </section>
  );
}

/** A month that is chosen stays within the plan when that begins later. */
const notBefore = (first: string, month: string): string => [first, month].sort()[1] ?? first;

const afterwards = (way: Way) => monthsFrom(way.start, Math.max(24, least(way)?.months ?? 360)).slice(1);
const least = (way: Way) => way.comparison.find((compared) => compared.strategy === "minimums");

function ByMonth({ way, asked }: Props) {
  const [chosen, setBy] = useState(
    () => afterwards(way).at(Math.min(59, Math.floor(way.months.length * 0.7)))?.value ?? "",
  );
  const by = chosen <= way.start ? (afterwards(way)[0]?.value ?? "") : chosen;
  const ask = useMutation({
    mutationFn: () => api.post("/api/payoff/extra-for", { body: { asked, by } }),
  });
  return (
    <Question ask={ask} saying={ask.data && `${money(ask.data.extra_monthly, ask.data.currency)} extra each month.`}>
      What extra is debt-free by
      <Select label="Debt-free by" value={by} options={afterwards(way)} onChange={setBy} className="field !w-36" />
    </Question>
  );
}

function SumWorth({ way, asked }: Props) {
  const [text, setText] = useState("");
  const [chosenMonth, setMonth] = useState(way.start);
  const month = notBefore(way.start, chosenMonth);
  const read = readAmount(text, way.currency);
  const ask = useMutation({
    mutationFn: () => {
      if ("problem" in read) throw new Error(read.problem);
      const body = { asked, month, amount: read.amount };
      return api.post("/api/payoff/worth", { body });
    },
  });
  return (
    <Question ask={ask}>
      What is a sum of
      <AmountGap label="A sum" value={text} onChange={setText} />
      in
      <Months label="In the month" way={way} value={month} onChange={setMonth} />
      worth, debt by debt
      {ask.data && (
        <ul className="order-last w-full" data-testid="worth">
          {ask.data.worth.map((compared) => (
            <li key={compared.id}>
              On {compared.name}:{" "}
              {compared.saves_interest === null ? "–" : `saves ${money(compared.saves_interest, way.currency)}`}
              {compared.saves_months
                ? `, ${Math.abs(compared.saves_months)} months ${compared.saves_months > 0 ? "sooner" : "later"}`
                : ""}
            </li>
          ))}
        </ul>
      )}
    </Question>
  );
}

function OrSavings({ way, asked }: Props) {
  const accounts = useAccounts().data?.accounts ?? [];
  const savings = accounts.filter(({ account }) => account.savings && account.currency === way.currency);
  const [chosen, setChosen] = useState("");
  const [text, setText] = useState("");
  const [chosenMonth, setMonth] = useState(way.start);
  const month = notBefore(way.start, chosenMonth);
  const account = chosen || savings[0]?.account.id || "";
  const read = readAmount(text, way.currency);
  const ask = useMutation({
    mutationFn: () => {
      if ("problem" in read) throw new Error(read.problem);
      const body = { asked, month, account, amount: read.amount };
      return api.post("/api/payoff/savings", { body });
    },
  });
  if (savings.length === 0) return null;
  return (
    <Question ask={ask} saying={ask.data && savingsTold(ask.data, way.currency)}>
      Pay
      <AmountGap label="From savings" value={text} onChange={setText} />
      of
      <Select
        label="Out of which savings"
        value={account}
        options={savings.map((saving) => ({ value: saving.account.id, label: saving.account.name }))}
        onChange={setChosen}
        className="field !w-48"
      />
      on the debts in
      <Months label="Out of savings in" way={way} value={month} onChange={setMonth} />
      or keep it
    </Question>
  );
}

function savingsTold(savings: Schemas["SavingsAnswer"], currency: string): string {
  const saved = savings.saves_interest ?? 0;
  const gain = saved - savings.yield_lost;
  const better =
    gain > 0 ? `Paying is better by ${money(gain, currency)}` : `Keeping is better by ${money(-gain, currency)}`;
  const short = savings.lowest.headroom < 0 ? `, ${money(-savings.lowest.headroom, currency)} below its floor` : "";
  return `${better}: ${money(saved, currency)} of interest saved against ${money(savings.yield_lost, currency)} that it would have earned by ${monthOf(savings.until)}. The savings' lowest is then ${money(savings.lowest.balance, currency)} on ${dayText(savings.lowest.date, "0")}${short}.`;
}

function Months({
  label,
  way,
  value,
  onChange,
}: {
  label: string;
  way: Way;
  value: string;
  onChange: (month: string) => void;
}) {
  return (
    <Select
      label={label}
      value={value}
      options={monthsFrom(way.start, Math.max(12, way.months.length))}
      onChange={onChange}
      className="field !w-36"
    />
  );
}
