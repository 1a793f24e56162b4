import { useState } from "react";
import type { UseFormReturn } from "react-hook-form";
import { Button } from "@/shared/kit/Button";
import { DateList } from "@/shared/kit/fields/DateList";
import { Field } from "@/shared/kit/fields/Field";
import { Select } from "@/shared/kit/fields/Select";
import { type End, type FlowForm, timingOf } from "./flowForm";
import { NextDates, useOccurrences } from "./NextDates";
import { OwnDates } from "./OwnDates";
import { RulePicker } from "./rhythm/RulePicker";
import { begunOn, type Preset, type Rule, rhythmFrom, USUAL, usualOf, usualRhythm } from "./rhythm/rhythm";
import { useRhythms } from "./rhythm/useRhythms";

export const ROLLS = [
  { value: "none", label: "stay on that day" },
  { value: "before", label: "move to the business day before" },
  { value: "after", label: "move to the business day after" },
  { value: "nearest", label: "move to the nearest business day" },
];

const RHYTHMS = [
  ...USUAL,
  { value: "other", label: "another rhythm" },
  { value: "dates", label: "on dates of its own" },
] as const;

interface Props {
  values: FlowForm;
  form: UseFormReturn<FlowForm>;
  problem: (field: string) => string | undefined;
  today: string;
  currency: string;
}

type Set = <Name extends keyof FlowForm>(name: Name, value: FlowForm[Name]) => void;

/** When it happens: how it repeats or on which dates, from when, until when, and what weekends and holidays do. */
export function WhenFields({ values, form, problem, today, currency }: Props) {
  const set: Set = (name, value) => form.setValue(name, value as never, { shouldDirty: true });
  const timing = timingOf(values);
  const isRepeating = values.repeats === "rules";
  const [isOther, setOther] = useState(false);
  const rhythms = useRhythms(values.rules, values.start || today);
  const known = rhythms.filter((rhythm) => rhythm !== undefined);
  const isKnown = known.length === rhythms.length;
  const usual = usualOf(known, values.start);
  const showsRules = isRepeating && isKnown && (isOther || usual === null);
  return (
    <>
      <div className="grid grid-cols-2 gap-3">
        <Field label="When">
          {(ids) => (
            <Select
              {...ids}
              value={isRepeating ? (showsRules ? "other" : (usual ?? "")) : "dates"}
              options={RHYTHMS}
              onChange={(next) => {
                set("repeats", next === "dates" ? "dates" : "rules");
                setOther(next === "other");
                if (next === "dates" || next === "other") return;
                set("rules", [usualRhythm(next, values.start || today)]);
                set("chosen", [[]]);
              }}
            />
          )}
        </Field>
        {isRepeating && (
          <Starting
            label={showsRules ? "Starting" : "First on"}
            values={values}
            form={form}
            set={set}
            problem={problem}
            rhythms={known}
          />
        )}
      </div>
      {showsRules && <Rules values={values} set={set} problem={problem} today={today} />}
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
      {isRepeating && values.except.length > 0 && (
        <DateList
          label="But not on"
          days={values.except}
          first={today}
          onChange={(days) => set("except", days)}
          problem={problem("except")}
        />
      )}
      <NextDates timing={timing} />
      {isRepeating && <Besides values={values} set={set} today={today} />}
      {isRepeating && <Ending values={values} form={form} set={set} problem={problem} />}
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
    </>
  );
}

interface PartProps extends Pick<Props, "values" | "problem"> {
  set: Set;
}

/** Each rule as a sentence with gaps. */
function Rules({ values, set, problem, today }: PartProps & { today: string }) {
  const sentence = useOccurrences(timingOf(values)).data?.text;
  const setRules = (rules: Rule[], chosen: Preset[][]) => {
    set("rules", rules);
    set("chosen", chosen);
  };
  return values.rules.map((rule, place) => (
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
  ));
}

/** What a rhythm may have beside itself: another one, single dates more, single dates less. */
function Besides({ values, set, today }: Pick<PartProps, "values" | "set"> & { today: string }) {
  return (
    <div className="flex flex-wrap gap-x-2">
      <Button
        look="link"
        onClick={() => {
          set("rules", [...values.rules, rhythmFrom(values.start || today)]);
          set("chosen", [...values.chosen, []]);
        }}
      >
        And also…
      </Button>
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
  );
}

interface BoundProps extends PartProps {
  form: UseFormReturn<FlowForm>;
}

function Starting({ label, values, form, set, problem, rhythms }: BoundProps & { label: string; rhythms: Rule[] }) {
  return (
    <Field label={label} problem={problem("start")}>
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
                values.rules.map((rule, place) => begunOn(rhythms[place] ?? rule, start, values.chosen[place] ?? [])),
              ),
          })}
          className="field"
        />
      )}
    </Field>
  );
}

function Ending({ values, form, set, problem }: BoundProps) {
  return (
    <div className="grid grid-cols-2 gap-3">
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
        <Field label="Last date" problem={problem("until")}>
          {(ids) => <input {...ids} type="date" {...form.register("until")} className="field" />}
        </Field>
      )}
      {values.ends === "count" && (
        <Field label="How many times" problem={problem("count")}>
          {(ids) => <input {...ids} inputMode="numeric" {...form.register("count")} className="field text-right" />}
        </Field>
      )}
    </div>
  );
}
