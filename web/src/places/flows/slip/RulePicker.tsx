import { X } from "lucide-react";
import { useState } from "react";
import { ChooseMany } from "@/shared/kit/fields/Choice";
import { Select } from "@/shared/kit/fields/Select";
import { MONTHS, PLACES, type Preset, type Rhythm, readRule, rhythmFrom, type Unit, WEEKDAYS, writeRule } from "./rule";

interface Props {
  rule: string;
  start: string;
  sentence: string | undefined;
  problem: string | undefined;
  /** What was chosen of it by hand: the first that is chosen takes the place of what is preset. */
  chosen: readonly Preset[];
  onChange: (rule: string, chosen: Preset[]) => void;
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
  const rhythm = readRule(rule, start);
  return (
    <div className="flex flex-col gap-2 border-l-2 border-rule pl-3">
      <div className="flex items-start justify-between gap-2">
        {rhythm ? (
          <Gaps rhythm={rhythm} chosen={chosen} onChange={(next, made) => onChange(writeRule(next), made)} />
        ) : (
          <OnlySentence sentence={sentence ?? rule} onReplace={() => onChange(writeRule(rhythmFrom(start)), [])} />
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
  choose: (
    part: "weekdays" | "monthDays" | "months",
    values: string[],
    inOrder?: (values: string[]) => string[],
    /** All of it was said at once. */
    isWhole?: boolean,
  ) => void;
}

function settersOf({ rhythm, chosen, onChange }: GapsProps): Setters {
  return {
    set: (part) => onChange({ ...rhythm, ...part }, "placeDay" in part ? [...chosen, "placeDay"] : [...chosen]),
    choose: (part, values, inOrder = (list) => list, isWhole = false) => {
      // Who presses what is preset chooses it.
      const next = values.length === 0 ? rhythm[part] : isWhole || chosen.includes(part) ? values : values.slice(-1);
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
            if (Number(typed) > 0) set({ every: String(Number(typed)) });
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
          <TypedDays days={rhythm.monthDays} onChange={(days) => choose("monthDays", days, inMonthOrder, true)} />
        )}
      </div>
      {rhythm.unit === "WEEKLY" && (
        <ChooseMany
          label="Weekdays"
          values={rhythm.weekdays}
          onChange={(weekdays) => choose("weekdays", weekdays)}
          options={WEEKDAYS}
        />
      )}
      {(rhythm.unit === "MONTHLY" || rhythm.unit === "YEARLY") && (
        <WithinMonth rhythm={rhythm} set={set} choose={choose} />
      )}
      {rhythm.unit === "YEARLY" && (
        <ChooseMany
          label="Months"
          values={rhythm.months}
          onChange={(months) => choose("months", months, (list) => [...list].sort((a, b) => +a - +b))}
          options={MONTHS}
          className="grid grid-cols-6 gap-1"
        />
      )}
    </div>
  );
}

/** The days of a month as they are typed: "1, 15", "last". */
function TypedDays({ days, onChange }: { days: string[]; onChange: (days: string[]) => void }) {
  const [typed, setTyped] = useState<string | null>(null);
  return (
    <input
      aria-label="On which days, typed"
      value={typed ?? days.map((day) => (day === "-1" ? "last" : day)).join(", ")}
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
          values={rhythm.monthDays}
          onChange={(days) => choose("monthDays", days, inMonthOrder)}
          options={MONTH_DAYS}
          className="grid grid-cols-8 gap-0.5 [&>:last-child]:col-span-3 [&>button]:min-w-0 [&>button]:px-0"
        />
      ) : (
        <div className="flex items-center gap-2">
          <span>the</span>
          <Select label="Which one" value={rhythm.place} onChange={(place) => set({ place })} options={PLACES} />
          <Select
            label="Weekday"
            value={rhythm.placeDay}
            onChange={(placeDay) => set({ placeDay })}
            options={WEEKDAYS.map(({ value, name }) => ({ value, label: name }))}
          />
        </div>
      )}
    </>
  );
}

function typedDays(text: string): string[] {
  const days = [...text.matchAll(/\d+|last/gi)].map(([word]) => (/\d/.test(word) ? String(Number(word)) : "-1"));
  return [...new Set(days.filter((day) => day === "-1" || (Number(day) >= 1 && Number(day) <= 31)))];
}

function inMonthOrder(days: string[]): string[] {
  const place = (day: string) => (+day < 0 ? 100 + +day : +day);
  return [...days].sort((one, other) => place(one) - place(other));
}
