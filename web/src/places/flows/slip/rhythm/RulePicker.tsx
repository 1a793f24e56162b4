import { X } from "lucide-react";
import { useState } from "react";
import { ChooseMany } from "@/shared/kit/fields/Choice";
import { Select } from "@/shared/kit/fields/Select";
import { MONTHS, PLACES, type Preset, type Rhythm, type Rule, rhythmFrom, type Unit, WEEKDAYS } from "./rhythm";
import { useRhythms } from "./useRhythms";

interface Props {
  rule: Rule;
  start: string;
  sentence: string | undefined;
  problem: string | undefined;
  /** What was chosen of it by hand: the first that is chosen takes the place of what is preset. */
  chosen: readonly Preset[];
  onChange: (rhythm: Rhythm, chosen: Preset[]) => void;
  onRemove?: (() => void) | undefined;
}

const UNITS = [
  { value: "DAILY", label: "days" },
  { value: "WEEKLY", label: "weeks" },
  { value: "MONTHLY", label: "months" },
  { value: "YEARLY", label: "years" },
] as const;

const MONTH_DAYS = [
  ...Array.from({ length: 31 }, (_, index) => ({ value: String(index + 1), label: String(index + 1) })),
  { value: "-1", label: "last day" },
];

/** One rule as a sentence with gaps: every [2] [weeks] on [Fri]. */
export function RulePicker({ rule, start, sentence, problem, chosen, onChange, onRemove }: Props) {
  const [rhythm] = useRhythms([rule], start);
  return (
    <div className="flex flex-col gap-2 border-l-2 border-rule pl-3">
      <div className="flex items-start justify-between gap-2">
        {typeof rhythm === "object" && <Gaps rhythm={rhythm} chosen={chosen} onChange={onChange} />}
        {typeof rhythm === "string" && (
          <OnlySentence sentence={sentence ?? rhythm} onReplace={() => onChange(rhythmFrom(start), [])} />
        )}
        {onRemove && (
          <button
            type="button"
            aria-label="Remove this rule"
            onClick={onRemove}
            className="grid size-9 shrink-0 place-items-center rounded-sm hover:bg-hover"
          >
            <X size={17} aria-hidden />
          </button>
        )}
      </div>
      {problem && <p className="text-sm text-rust">{problem}</p>}
    </div>
  );
}

function OnlySentence({ sentence, onReplace }: { sentence: string; onReplace: () => void }) {
  return (
    <p>
      {sentence}.{" "}
      <button type="button" className="text-copper underline underline-offset-4" onClick={onReplace}>
        Choose another rhythm
      </button>
    </p>
  );
}

interface GapsProps {
  rhythm: Rhythm;
  chosen: readonly Preset[];
  onChange: (rhythm: Rhythm, chosen: Preset[]) => void;
}

/** Put other values into a rhythm; `choose`: a list of which the first that is chosen takes the place of the preset. */
interface Setters {
  set: (part: Partial<Rhythm>) => void;
  choose: <Part extends "weekdays" | "month_days" | "months">(
    part: Part,
    values: Rhythm[Part],
    inOrder?: (values: Rhythm[Part]) => Rhythm[Part],
    /** All of it was said at once. */
    isWhole?: boolean,
  ) => void;
}

function settersOf({ rhythm, chosen, onChange }: GapsProps): Setters {
  return {
    set: (part) => onChange({ ...rhythm, ...part }, "place_day" in part ? [...chosen, "place_day"] : [...chosen]),
    choose: (part, values, inOrder = (list) => list, isWhole = false) => {
      // Who presses what is preset chooses it.
      const last = values.slice(-1) as typeof values;
      const next = values.length === 0 ? rhythm[part] : isWhole || chosen.includes(part) ? values : last;
      onChange({ ...rhythm, [part]: inOrder(next) }, [...new Set<Preset>([...chosen, part])]);
    },
  };
}

function Gaps(props: GapsProps) {
  const { rhythm } = props;
  const { set, choose } = settersOf(props);
  const [every, setEvery] = useState<string | null>(null);
  return (
    <div className="flex min-w-0 flex-1 flex-col gap-2">
      <div className="flex items-center gap-2">
        <span>every</span>
        <input
          aria-label="How many"
          inputMode="numeric"
          value={every ?? rhythm.every}
          onFocus={(event) => event.target.select()}
          onChange={(event) => {
            const typed = event.target.value.replace(/\D/g, "").slice(0, 3);
            setEvery(typed);
            // While it is empty the rule stays as it was.
            if (Number(typed) > 0) set({ every: Number(typed) });
          }}
          onBlur={() => setEvery(null)}
          className="field w-14 text-right"
        />
        <Select
          label="Days, weeks, months or years"
          value={rhythm.unit}
          onChange={(unit) => set({ unit: unit as Unit })}
          options={UNITS}
          className="field w-28"
        />
        {rhythm.unit !== "DAILY" && <span>on</span>}
        {(rhythm.unit === "MONTHLY" || rhythm.unit === "YEARLY") && rhythm.within === "days" && (
          <TypedDays days={rhythm.month_days} onChange={(days) => choose("month_days", days, inMonthOrder, true)} />
        )}
      </div>
      {rhythm.unit === "WEEKLY" && (
        <ChooseMany
          label="Weekdays"
          values={rhythm.weekdays}
          onChange={(weekdays) => choose("weekdays", weekdays as Rhythm["weekdays"])}
          options={WEEKDAYS}
        />
      )}
      {(rhythm.unit === "MONTHLY" || rhythm.unit === "YEARLY") && (
        <WithinMonth rhythm={rhythm} set={set} choose={choose} />
      )}
      {rhythm.unit === "YEARLY" && (
        <ChooseMany
          label="Months"
          values={rhythm.months.map(String)}
          onChange={(months) => choose("months", months.map(Number), (list) => [...list].sort((a, b) => a - b))}
          options={MONTHS}
          className="grid grid-cols-6 gap-1"
        />
      )}
    </div>
  );
}

/** The days of a month as they are typed: "1, 15", "last". */
function TypedDays({ days, onChange }: { days: number[]; onChange: (days: number[]) => void }) {
  const [typed, setTyped] = useState<string | null>(null);
  return (
    <input
      aria-label="On which days, typed"
      value={typed ?? days.map((day) => (day === -1 ? "last" : day)).join(", ")}
      onFocus={(event) => event.target.select()}
      onChange={(event) => {
        setTyped(event.target.value);
        const next = typedDays(event.target.value);
        // While nothing of it is a day the rule stays as it was.
        if (next.length > 0) onChange(next);
      }}
      onBlur={() => setTyped(null)}
      className="field w-20 min-w-0 flex-1"
    />
  );
}

interface WithinProps extends Setters {
  rhythm: Rhythm;
}

function WithinMonth({ rhythm, set, choose }: WithinProps) {
  return (
    <>
      <Select
        label="Which days of the month"
        value={rhythm.within}
        onChange={(within) => set({ within: within as Rhythm["within"] })}
        options={[
          { value: "days", label: "these days of the month" },
          { value: "weekday", label: "the first, second… weekday" },
        ]}
        className="field"
      />
      {rhythm.within === "days" ? (
        <ChooseMany
          label="Days of the month"
          values={rhythm.month_days.map(String)}
          onChange={(days) => choose("month_days", days.map(Number), inMonthOrder)}
          options={MONTH_DAYS}
          className="grid grid-cols-8 gap-0.5 [&>:last-child]:col-span-3 [&>button]:min-w-0 [&>button]:px-0"
        />
      ) : (
        <div className="flex items-center gap-2">
          <span>the</span>
          <Select
            label="Which one"
            value={String(rhythm.place)}
            options={PLACES}
            onChange={(place) => set({ place: Number(place) as Rhythm["place"] })}
          />
          <Select
            label="Weekday"
            value={rhythm.place_day}
            onChange={(place_day) => set({ place_day: place_day as Rhythm["place_day"] })}
            options={WEEKDAYS.map(({ value, name }) => ({ value, label: name }))}
          />
        </div>
      )}
    </>
  );
}

function typedDays(text: string): number[] {
  const days = [...text.matchAll(/\d+|last/gi)].map(([word]) => (/\d/.test(word) ? Number(word) : -1));
  return [...new Set(days.filter((day) => day === -1 || (day >= 1 && day <= 31)))];
}

function inMonthOrder(days: number[]): number[] {
  const place = (day: number) => (day < 0 ? 100 + day : day);
  return [...days].sort((one, other) => place(one) - place(other));
}
