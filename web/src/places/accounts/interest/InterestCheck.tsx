import { keepPreviousData } from "@tanstack/react-query";
import { useState } from "react";
import { type Schemas, server } from "@/shared/api/client";
import { useHousehold } from "@/shared/api/hooks";
import { amountIn, problemOf, RATE, readFields } from "@/shared/fields";
import { BackLink } from "@/shared/kit/BackLink";
import { Button } from "@/shared/kit/Button";
import { ChooseOne } from "@/shared/kit/fields/Choice";
import { AmountField, DayField } from "@/shared/kit/fields/TypedFields";
import { z } from "@/shared/zod";
import { Verdict } from "./Verdict";

type Asked = Schemas["InterestRequest"];

interface Moved {
  key: string;
  date: string;
  amount: string;
}

const EMPTY = { from: "", to: "", opening: "", credited: "", percent: "", kind: "apy", moved: [] as Moved[] };

/** A bank's interest checked on typed figures, without an account. */
export function InterestCheck() {
  const household = useHousehold().data;
  const [form, setForm] = useState(EMPTY);
  const currency = household?.household.currency ?? "USD";
  const set = (values: Partial<typeof EMPTY>) => setForm((before) => ({ ...before, ...values }));
  const read = readForm(form, currency);
  const asked = askedOf(read, form.kind, currency);
  const { data, error } = server.useQuery(
    "post",
    "/api/tools/interest-check",
    { body: asked as Asked },
    { enabled: asked !== null, retry: false, placeholderData: keepPreviousData },
  );
  const wrong = (field: string, text: string) => (text.trim() === "" ? undefined : problemOf(read, field));
  return (
    <div className="mx-auto max-w-3xl px-4 py-4 md:px-6">
      <BackLink to="/accounts" name="Accounts" />
      <h1 className="text-xl">Is the bank's interest right?</h1>
      <p className="mb-3 text-pencil">
        What a statement shows: what was there at the start of its first day, what moved, and the interest paid at the
        end of its last.
      </p>
      <StatementFields {...{ form, currency, wrong, set }} />
      <Movements {...{ form, wrong, set }} />
      {error && asked && (
        <p role="alert" className="mt-3 text-rust">
          {error.message}
        </p>
      )}
      {asked && data && !error && <Verdict check={data} currency={currency} today={household?.today ?? ""} />}
    </div>
  );
}

function readForm(form: typeof EMPTY, currency: string) {
  const amount = amountIn(currency);
  const day = z.string().check(z.minLength(1));
  const schema = z.object({
    from: day,
    to: day,
    opening: amount,
    credited: amount,
    percent: RATE,
    moved: z.array(z.object({ date: day, amount })),
  });
  return readFields(schema, form);
}

/** The figures as the server takes them; null while some are missing. */
function askedOf(read: ReturnType<typeof readForm>, kind: string, currency: string): Asked | null {
  if ("problems" in read) return null;
  const { percent, moved, ...value } = read.value;
  return { ...value, movements: moved, [kind]: percent, currency };
}

interface FieldsProps {
  form: typeof EMPTY;
  currency: string;
  wrong: (field: string, text: string) => string | undefined;
  set: (values: Partial<typeof EMPTY>) => void;
}

/** What a statement shows but its movements. */
function StatementFields({ form, currency, wrong, set }: FieldsProps) {
  return (
    <div className="flex flex-wrap gap-x-4 gap-y-3">
      <DayField label="First day" value={form.from} onChange={(from) => set({ from })} />
      <DayField label="Last day" value={form.to} onChange={(to) => set({ to })} />
      <AmountField
        label={`At the start (${currency})`}
        value={form.opening}
        onChange={(opening) => set({ opening })}
        problem={wrong("opening", form.opening)}
      />
      <AmountField
        label={`Interest paid (${currency})`}
        value={form.credited}
        onChange={(credited) => set({ credited })}
        problem={wrong("credited", form.credited)}
      />
      <AmountField
        label="Percent a year"
        value={form.percent}
        onChange={(percent) => set({ percent })}
        problem={wrong("percent", form.percent)}
      />
      <div>
        <span className="mb-0.5 block text-sm text-pencil">It is</span>
        <ChooseOne
          label="The percentage is"
          value={form.kind}
          onChange={(kind) => set({ kind })}
          options={[
            { value: "apy", label: "a yield" },
            { value: "rate", label: "a rate" },
          ]}
        />
      </div>
    </div>
  );
}

/** Each deposit and withdrawal of the statement. */
function Movements({ form, wrong, set }: Omit<FieldsProps, "currency">) {
  const change = (key: string, values: Partial<Moved>) =>
    set({ moved: form.moved.map((oneMoved) => (oneMoved.key === key ? { ...oneMoved, ...values } : oneMoved)) });
  return (
    <>
      {" "}
      <h2 className="mt-4 text-lg">What moved</h2>
      <ul>
        {form.moved.map((oneMoved, at) => (
          <li key={oneMoved.key} className="flex flex-wrap items-end gap-x-4 gap-y-1 py-1">
            <DayField
              label={`Day ${at + 1}`}
              value={oneMoved.date}
              onChange={(date) => change(oneMoved.key, { date })}
            />
            <AmountField
              label="In, or out with a minus"
              value={oneMoved.amount}
              onChange={(amount) => change(oneMoved.key, { amount })}
              problem={wrong(`moved.${at}.amount`, oneMoved.amount)}
              className="w-44"
            />
            <Button
              look="link"
              aria-label={`Take away movement ${at + 1}`}
              onClick={() => set({ moved: form.moved.filter(({ key }) => key !== oneMoved.key) })}
            >
              Take away
            </Button>
          </li>
        ))}
      </ul>
      <Button
        look="link"
        onClick={() => set({ moved: [...form.moved, { key: crypto.randomUUID(), date: form.from, amount: "" }] })}
      >
        A deposit or withdrawal
      </Button>
    </>
  );
}
