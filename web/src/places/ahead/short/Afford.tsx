import { useState } from "react";
import { rhythmFrom } from "@/places/flows/slip/rhythm/rhythm";
import { type ChangeRequest, refusalOf, type Schemas, server } from "@/shared/api/client";
import { useSave } from "@/shared/api/hooks";
import { dayText, money, readAmount } from "@/shared/format";
import { useCalm } from "@/shared/hooks/useCalm";
import { Button } from "@/shared/kit/Button";
import { Select } from "@/shared/kit/fields/Select";
import { AmountField, DayField } from "@/shared/kit/fields/TypedFields";
import { useToast } from "@/shared/kit/Toast";
import { useWhatIf } from "@/shared/whatIf";

interface Props {
  account: string;
  currency: string;
  today: string;
  until: string;
}

const RHYTHMS = [
  { value: "once", label: "once" },
  { value: "monthly", label: "every month" },
];

/** An amount and a day: whether the account bears it, else from when it would. */
export function Afford({ account, currency, today, until }: Props) {
  const [amount, setAmount] = useState("");
  const [on, setOn] = useState(today);
  const [rhythm, setRhythm] = useState("once");
  const read = readAmount(amount, currency);
  const monthly = rhythm === "monthly";
  const body = {
    account,
    amount: "amount" in read ? read.amount : 0,
    on,
    monthly,
    until,
  };
  const asked = useCalm("amount" in read && read.amount > 0 && on ? body : null, 200);
  const { error } = useAfford(asked);
  const problemAt = (field: string) => (asked ? refusalOf(error, field) : undefined);
  const problem = amount.trim() && "problem" in read ? read.problem : problemAt("amount");
  return (
    <section aria-label="Can we afford it" className="border-l-2 border-copper pl-3">
      <div className="flex flex-wrap items-end gap-3">
        <AmountField isFirst label={`Amount (${currency})`} value={amount} onChange={setAmount} problem={problem} />
        <DayField label="On" value={on} onChange={setOn} min={today} problem={problemAt("on")} />
        <Select label="How often" value={rhythm} options={RHYTHMS} onChange={setRhythm} className="field !w-40" />
      </div>
      {error && asked && !problemAt("amount") && !problemAt("on") && (
        <p role="alert" className="mt-2 text-rust">
          {error.message}
        </p>
      )}
      {asked && <AffordTold asked={asked} currency={currency} today={today} />}
    </section>
  );
}

function useAfford(asked: Schemas["AffordRequest"] | null) {
  return server.useQuery(
    "post",
    "/api/afford",
    { body: asked as Schemas["AffordRequest"] },
    { enabled: asked !== null, retry: false },
  );
}

/** The answer to a question: whether it can be afforded, and how likely the floor breaks. */
export function AffordTold(props: { asked: Schemas["AffordRequest"]; currency: string; today: string }) {
  const { data, error } = useAfford(props.asked);
  if (!data || error) return null;
  return (
    <>
      <Odds asked={props.asked} />
      <Told data={data} {...props} />
    </>
  );
}

/** How likely the floor breaks with it and without it, once that is counted. */
function Odds({ asked }: { asked: Schemas["AffordRequest"] }) {
  const { data } = server.useQuery("post", "/api/afford/chance", { body: asked }, { retry: false });
  // Its line is there before it is counted: what is below stays where it is.
  return (
    <p className="mt-2 min-h-6 text-pencil">
      {data?.is_known && `How likely the floor breaks: ${data.with_says} with it, ${data.without_says} without it.`}
    </p>
  );
}

interface ToldProps {
  data: Schemas["AffordAnswer"];
  asked: Schemas["AffordRequest"];
  currency: string;
  today: string;
}

function Told({ data, asked, currency, today }: ToldProps) {
  const { begin } = useWhatIf();
  const save = useSave();
  const toast = useToast();
  const start = data.ok ? asked.on : data.works_from;
  const low = data.ok ? data.lowest : data.lowest_then;
  return (
    <div aria-live="polite" className="mt-2">
      {data.ok ? (
        <p>
          <strong>Yes.</strong> The lowest then is {money(data.lowest.balance, currency)} on{" "}
          {dayText(data.lowest.date, today)}, {money(data.lowest.headroom, currency)} above the floor.
        </p>
      ) : (
        <p>
          <strong className="text-rust">Not then:</strong> on {dayText(data.fails_on ?? asked.on, today)} the account
          would fall below its floor, by up to {money(-data.lowest.headroom, currency)}.{" "}
          {data.works_from && low ? (
            <>
              From <strong>{dayText(data.works_from, today)}</strong> on it would hold, with{" "}
              {money(low.headroom, currency)} left above the floor at the lowest.
            </>
          ) : (
            "No later day in sight bears it either."
          )}
        </p>
      )}
      {start && (
        <p className="mt-1 flex flex-wrap gap-2">
          <Button className="!min-h-9" onClick={() => begin(nameOf(asked, currency), [flowOf(asked, start)])}>
            Look at it as a what-if{start === asked.on ? "" : ` from ${dayText(start, today)}`}
          </Button>
          <Button
            className="!min-h-9"
            disabled={save.isPending}
            onClick={() =>
              save.mutate([flowOf(asked, start)], {
                onSuccess: () => toast("It is planned. Undo takes it back."),
                onError: (error) => toast(error.message),
              })
            }
          >
            Plan it
          </Button>
        </p>
      )}
    </div>
  );
}

const nameOf = (asked: Schemas["AffordRequest"], currency: string) =>
  `${money(asked.amount, currency)} ${asked.monthly ? "a month" : "once"}`;

function flowOf(asked: Schemas["AffordRequest"], start: string): ChangeRequest {
  const when = asked.monthly ? { rules: [rhythmFrom(start)], start } : { dates: [start] };
  const value = { name: "Something we want", kind: "bill", amount: asked.amount, from_account: asked.account, ...when };
  return { op: "add", kind: "flow", id: crypto.randomUUID(), value };
}
