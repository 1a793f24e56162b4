import type { UseFormReturn } from "react-hook-form";
import { Button } from "@/shared/kit/Button";
import { ChooseOne } from "@/shared/kit/fields/Choice";
import { DateList } from "@/shared/kit/fields/DateList";
import { Field, FieldGroup } from "@/shared/kit/fields/Field";
import { Select } from "@/shared/kit/fields/Select";
import { type End, type FlowForm, timingOf } from "./flowForm";
import { NextDates, useOccurrences } from "./NextDates";
import { OwnDates } from "./OwnDates";
import { RulePicker } from "./RulePicker";
import { begunOn, type Preset, rhythmFrom, writeRule } from "./rule";

export const ROLLS = [
  { value: "none", label: "stay on that day" },
  { value: "before", label: "move to the business day before" },
  { value: "after", label: "move to the business day after" },
  { value: "nearest", label: "move to the nearest business day" },
];

interface Props {
  values: FlowForm;
  form: UseFormReturn<FlowForm>;
  problem: (field: string) => string | undefined;
  today: string;
  currency: string;
}

/** When it happens: how it repeats or on which dates, from when, until when, and what weekends and holidays do. */
export function WhenFields({ values, form, problem, today, currency }: Props) {
  const set = <Name extends keyof FlowForm>(name: Name, value: FlowForm[Name]) =>
    form.setValue(name, value as never, { shouldDirty: true });
  const setRules = (rules: string[], chosen: Preset[][]) => {
    set("rules", rules);
    set("chosen", chosen);
  };
  const timing = timingOf(values);
  const sentence = useOccurrences(timing).data?.text;
  const isRepeating = values.repeats === "rules";
  return (
    <>
      <FieldGroup label="When">
        <ChooseOne
          label="When"
          value={values.repeats}
          onChange={(repeats) => set("repeats", repeats as FlowForm["repeats"])}
          options={[
            { value: "rules", label: "It repeats" },
            { value: "dates", label: "On dates of its own" },
          ]}
        />
      </FieldGroup>
      {isRepeating && (
        <>
          {values.rules.map((rule, place) => (
            <RulePicker
              // biome-ignore lint/suspicious/noArrayIndexKey: rules have no identity but their place
              key={place}
              rule={rule}
              start={values.start || today}
              chosen={values.chosen[place] ?? []}
              sentence={sentence}
              problem={problem(`rules.${place}`) ?? (place === 0 ? problem("rules") : undefined)}
              onChange={(next, chosen) => setRules(values.rules.with(place, next), values.chosen.with(place, chosen))}
              onRemove={
                values.rules.length > 1
                  ? () => setRules(values.rules.toSpliced(place, 1), values.chosen.toSpliced(place, 1))
                  : undefined
              }
            />
          ))}
          <Button
            look="link"
            className="self-start"
            onClick={() =>
              setRules([...values.rules, writeRule(rhythmFrom(values.start || today))], [...values.chosen, []])
            }
          >
            And also…
          </Button>
        </>
      )}
      {(!isRepeating || values.dates.length > 0) && (
        <OwnDates
          label={isRepeating ? "And on" : "Dates"}
          dates={values.dates}
          usual={values.by_the_hour ? "" : values.amount}
          currency={currency}
          first={today}
          onChange={(dates) => set("dates", dates)}
          problem={problem("dates") ?? (isRepeating ? undefined : problem("rules"))}
        />
      )}
      {isRepeating && <Bounds values={values} form={form} set={set} problem={problem} />}
      {isRepeating && values.except.length > 0 && (
        <DateList
          label="But not on"
          days={values.except}
          first={today}
          onChange={(days) => set("except", days)}
          problem={problem("except")}
        />
      )}
      {isRepeating && (
        <div className="flex gap-2">
          {values.dates.length === 0 && (
            <Button look="link" onClick={() => set("dates", [{ day: today, amount: "" }])}>
              And on one more date…
            </Button>
          )}
          {values.except.length === 0 && (
            <Button look="link" onClick={() => set("except", [today])}>
              But not on…
            </Button>
          )}
        </div>
      )}
      <Field label="On a weekend or bank holiday">
        {(ids) => (
          <Select
            {...ids}
            value={values.roll}
            options={ROLLS}
            onChange={(roll) => set("roll", roll as FlowForm["roll"])}
          />
        )}
      </Field>
      <NextDates timing={timing} />
    </>
  );
}

interface BoundsProps extends Omit<Props, "today" | "currency"> {
  set: <Name extends keyof FlowForm>(name: Name, value: FlowForm[Name]) => void;
}

function Bounds({ values, form, set, problem }: BoundsProps) {
  return (
    <div className="grid grid-cols-2 gap-3">
      <Field label="Starting" problem={problem("start")}>
        {(ids) => (
          <input
            {...ids}
            type="date"
            {...form.register("start", {
              // What nobody chose follows the day on which it starts.
              onChange: ({ target: { value: start } }) =>
                start &&
                set(
                  "rules",
                  values.rules.map((rule, place) => begunOn(rule, start, values.chosen[place] ?? [])),
                ),
            })}
            className="field"
          />
        )}
      </Field>
      <Field label="Ending">
        {(ids) => (
          <Select
            {...ids}
            value={values.ends}
            onChange={(ends) => set("ends", ends as End)}
            options={[
              { value: "never", label: "never" },
              { value: "until", label: "on a date" },
              { value: "count", label: "after some times" },
            ]}
          />
        )}
      </Field>
      {values.ends === "until" && (
        <Field label="Last date" problem={problem("until")} className="col-start-2">
          {(ids) => <input {...ids} type="date" {...form.register("until")} className="field" />}
        </Field>
      )}
      {values.ends === "count" && (
        <Field label="How many times" problem={problem("count")} className="col-start-2">
          {(ids) => <input {...ids} inputMode="numeric" {...form.register("count")} className="field text-right" />}
        </Field>
      )}
    </div>
  );
}
