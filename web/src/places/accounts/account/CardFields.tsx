import type { UseFormReturn } from "react-hook-form";
import type { Account } from "@/shared/api/client";
import { Button } from "@/shared/kit/Button";
import { ChooseOne } from "@/shared/kit/fields/Choice";
import { Field, FieldGroup } from "@/shared/kit/fields/Field";
import { Select } from "@/shared/kit/fields/Select";
import { RemoveRow } from "@/shared/kit/RowButtons";
import type { AccountForm, CardForm } from "./accountForm";
import { BegunFields } from "./BegunFields";

const DUES = [
  { value: "days_after", label: "days after it closes" },
  { value: "day", label: "on a day of the month" },
] as const;
const PAYS = [
  { value: "statement", label: "The whole statement" },
  { value: "minimum", label: "The minimum" },
  { value: "fixed", label: "A fixed amount" },
] as const;

const KNOWN = [
  { value: "terms", label: "Its limit and days" },
  { value: "owed", label: "Only what is owed: paid by hand" },
] as const;

interface Props {
  form: UseFormReturn<AccountForm>;
  values: AccountForm;
  accounts: Account[];
  problem: (field: string) => string | undefined;
  set: (part: Partial<CardForm>) => void;
}

/** A card's or line's terms: what it lends, when its cycle closes and is due, what it costs, and how it is paid. */
export function CardFields({ form, values, accounts, problem, set }: Props) {
  const { card, kind } = values;
  const payers = accounts.map((account) => ({ value: account.id, label: account.name }));
  const number = (name: "limit" | "closing_day" | "fixed_amount", label: string, at: string, hint?: string) => (
    <Field label={label} hint={hint} problem={problem(at)}>
      {(ids) => (
        <input
          {...ids}
          {...form.register(`card.${name}`)}
          inputMode="decimal"
          autoComplete="off"
          className="field text-right"
        />
      )}
    </Field>
  );
  const how = (
    <ChooseOne
      label="What is known of it"
      value={card.by_hand ? "owed" : "terms"}
      options={KNOWN}
      onChange={(known) => set({ by_hand: known === "owed" })}
    />
  );
  if (card.by_hand) return <FieldGroup label="What is known of it">{how}</FieldGroup>;
  return (
    <>
      <FieldGroup label="What is known of it">{how}</FieldGroup>
      <div className="grid grid-cols-2 gap-3">
        {number("limit", "Limit", "card.limit", "Needed.")}
        {number("closing_day", "The cycle closes on day", "card.closing_day", "Needed.")}
      </div>
      <DueField {...{ card, form, problem, set }} />
      <Rates card={card} form={form} problem={problem} set={set} />
      <Minimum form={form} card={card} problem={problem} set={set} />
      <FieldGroup label="What is paid each time">
        <ChooseOne
          label="What is paid each time"
          value={card.pays}
          options={PAYS}
          onChange={(pays) => set({ pays: pays as CardForm["pays"] })}
        />
      </FieldGroup>
      {card.pays === "fixed" && number("fixed_amount", "Amount paid each time", "card.fixed_amount")}
      <Field label="Paid from" problem={problem("card.from_account")}>
        {(ids) => (
          <Select
            {...ids}
            value={card.from_account}
            options={[{ value: "", label: "nothing: it is paid by hand" }, ...payers]}
            onChange={(from_account) => set({ from_account })}
          />
        )}
      </Field>
      <BegunFields form={form} values={values} problem={problem} />
      {kind === "credit_line" && (
        <CoversField
          value={card.covers}
          payers={payers}
          problem={problem("card.covers")}
          onChange={(covers) => set({ covers })}
        />
      )}
    </>
  );
}

interface PartProps {
  form: UseFormReturn<AccountForm>;
  card: CardForm;
  problem: (field: string) => string | undefined;
  set: (part: Partial<CardForm>) => void;
}

/** The rates by the day from which each holds: a promotional one, and what follows it. */
function Rates({ form, card, problem, set }: PartProps) {
  const wrong = card.rates.map((_, place) => problem(`card.rates.${place}.annual_rate`)).find(Boolean);
  return (
    <FieldGroup label="Rate, % a year" problem={wrong ?? problem("card.rates")}>
      <ul className="flex flex-col gap-1.5">
        {card.rates.map((_, place) => (
          // biome-ignore lint/suspicious/noArrayIndexKey: steps have no identity but their place
          <li key={place} className="flex items-center gap-2">
            <input
              {...form.register(`card.rates.${place}.annual_rate`)}
              aria-label={`Rate ${place + 1}, % a year`}
              inputMode="decimal"
              autoComplete="off"
              className="field !w-24 text-right"
            />
            <span className="text-pencil">from</span>
            <input
              {...form.register(`card.rates.${place}.from`)}
              type="date"
              aria-label={`Rate ${place + 1} holds from`}
              className="field !w-40"
            />
            {card.rates.length > 1 && (
              <RemoveRow
                name={`Remove rate ${place + 1}`}
                onClick={() => set({ rates: card.rates.filter((_, at) => at !== place) })}
              />
            )}
          </li>
        ))}
      </ul>
      <Button
        look="link"
        className="!min-h-8 !px-0"
        onClick={() => set({ rates: [...card.rates, { from: "", annual_rate: "" }] })}
      >
        Another rate from a day on
      </Button>
    </FieldGroup>
  );
}

function Minimum({ form, card, problem, set }: PartProps) {
  return (
    <FieldGroup
      label="The minimum that a statement asks for"
      problem={problem("card.minimum.percent") ?? problem("card.minimum.floor")}
    >
      <div className="flex flex-wrap items-center gap-x-2 gap-y-1.5">
        <input
          {...form.register("card.percent")}
          aria-label="Minimum, percent of what is owed"
          inputMode="decimal"
          autoComplete="off"
          className="field !w-16 text-right"
        />
        <span>% of what is owed, at least</span>
        <input
          {...form.register("card.least")}
          aria-label="Minimum, at least"
          inputMode="decimal"
          autoComplete="off"
          className="field !w-24 text-right"
        />
        <label className="flex min-h-9 items-center gap-2">
          <input
            type="checkbox"
            checked={card.plus_interest}
            onChange={(event) => set({ plus_interest: event.target.checked })}
            className="size-4.5 accent-(--ink)"
          />
          and the cycle's interest besides
        </label>
      </div>
    </FieldGroup>
  );
}

interface CoversProps {
  value: string;
  payers: { value: string; label: string }[];
  problem: string | undefined;
  onChange: (covers: string) => void;
}

/** The account that a line lends to by itself. */
function CoversField({ value, payers, problem, onChange }: CoversProps) {
  return (
    <Field
      label="Lends by itself to"
      hint="On a day that would end below that account's floor, it lends exactly what is missing."
      problem={problem}
    >
      {(ids) => (
        <Select {...ids} value={value} options={[{ value: "", label: "no account" }, ...payers]} onChange={onChange} />
      )}
    </Field>
  );
}

type DueProps = Pick<Props, "form" | "problem" | "set"> & { card: CardForm };

/** On which day a statement is due, or how many days after it closes. */
function DueField({ card, form, problem, set }: DueProps) {
  return (
    <FieldGroup label="The statement is due" problem={problem("card.due.day") ?? problem("card.due")}>
      <div className="flex items-center gap-2">
        <input
          {...form.register("card.due_number")}
          aria-label={card.due === "day" ? "Day of the month on which it is due" : "Days from closing to due"}
          inputMode="numeric"
          autoComplete="off"
          className="field !w-16 text-right"
        />
        <Select
          label="How the due date is counted"
          value={card.due}
          options={DUES}
          onChange={(due) => set({ due: due as CardForm["due"] })}
        />
      </div>
    </FieldGroup>
  );
}
