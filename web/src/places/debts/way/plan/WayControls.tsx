import { useState } from "react";
import { type Asked, type Choice, monthsFrom, ORDERS, type Picture } from "@/places/debts/way/wayOut";
import { decimalsOf, digits, money, monthOf, readAmount } from "@/shared/format";
import { Button } from "@/shared/kit/Button";
import { ChooseOne } from "@/shared/kit/fields/Choice";
import { Select } from "@/shared/kit/fields/Select";

interface Props {
  picture: Picture;
  asked: Asked;
  onChange: (part: Partial<Asked>) => void;
}

/** What can be turned: the extra, from when, in which order, and within what bounds. */
export function WayControls({ picture, asked, onChange }: Props) {
  const first = picture.today.slice(0, 7);
  return (
    <div className="flex flex-col gap-2 py-3">
      <Extra picture={picture} asked={asked} onChange={onChange} />
      <div className="flex items-center gap-3">
        <span className="text-sm text-pencil">Begin in</span>
        <Select
          label="Begin in"
          value={asked.start ?? picture.start}
          options={monthsFrom(first, 25)}
          onChange={(start) => onChange({ start })}
          className="field !min-h-9 !w-36"
        />
      </div>
      <ChooseOne
        label="Which debt first"
        value={picture.strategy}
        options={ORDERS}
        onChange={(strategy) => onChange({ strategy: strategy as Choice })}
      />
      <div>
        <Tick
          label="No more than the forecast bears"
          isOn={asked.cap === "affordable"}
          onChange={(isOn) => onChange({ cap: isOn ? "affordable" : "none" })}
        />
        <Tick
          label="What a cleared debt frees goes on to the next"
          isOn={asked.roll_freed ?? true}
          onChange={(roll_freed) => onChange({ roll_freed })}
        />
      </div>
    </div>
  );
}

function Tick({ label, isOn, onChange }: { label: string; isOn: boolean; onChange: (isOn: boolean) => void }) {
  return (
    <label className="flex min-h-8 items-center gap-2">
      <input
        type="checkbox"
        checked={isOn}
        onChange={(event) => onChange(event.target.checked)}
        className="size-4.5 accent-(--ink)"
      />
      {label}
    </label>
  );
}

/** The extra as a slider and as a number, with the part of it that the forecast bears marked. */
function Extra({ picture, asked, onChange }: Props) {
  const { currency, affordable } = picture;
  const extra = asked.extra_monthly ?? 0;
  const [text, setText] = useState<string | null>(null);
  const unit = 10 ** decimalsOf(currency);
  const even = affordable?.even ?? 0;
  // The range stays while one drags; a larger number widens it.
  const [most] = useState(() => Math.max(1000 * unit, 3 * Math.max(even, affordable?.later?.amount ?? 0), 2 * extra));
  const end = Math.ceil(Math.max(most, extra) / (50 * unit)) * 50 * unit;
  const read = text === null ? null : readAmount(text || "0", currency);
  const problem = read && "problem" in read ? read.problem : undefined;
  const set = (amount: number) => onChange({ extra_monthly: amount, extra_changes: [] });
  return (
    <div>
      <div className="flex items-baseline gap-3">
        <label htmlFor="way-extra" className="text-sm text-pencil">
          Extra each month
        </label>
        <input
          id="way-extra"
          inputMode="decimal"
          aria-invalid={Boolean(problem)}
          aria-describedby="way-bears"
          value={text ?? digits(extra, currency)}
          onChange={(event) => {
            setText(event.target.value);
            const typed = readAmount(event.target.value || "0", currency);
            if ("amount" in typed && typed.amount >= 0) set(typed.amount);
          }}
          onBlur={() => !problem && setText(null)}
          className="field !min-h-9 !w-36 text-right text-lg"
        />
      </div>
      <div className="relative mt-1 pt-2">
        {even > 0 && even <= end && (
          <span
            aria-hidden="true"
            className="absolute top-0 h-7 w-0.5 bg-teal"
            style={{ left: `calc(${(even / end) * 100}% + ${8 - (even / end) * 16}px)` }}
          />
        )}
        <input
          type="range"
          aria-label="Extra each month, slider"
          aria-valuetext={money(extra, currency)}
          min={0}
          max={end}
          step={5 * unit}
          value={Math.min(extra, end)}
          onChange={(event) => {
            setText(null);
            set(Number(event.target.value));
          }}
          className="block h-5 w-full accent-(--copper)"
        />
      </div>
      <p id="way-bears" className={`text-sm ${problem ? "text-rust" : "text-pencil"}`}>
        {problem ?? (
          <Bears
            picture={picture}
            extra={extra}
            onTake={(amount, start) => onChange({ extra_monthly: amount, start })}
          />
        )}
      </p>
    </div>
  );
}

/** What can be spared, and one press to take just that. */
interface BearsProps {
  picture: Picture;
  extra: number;
  onTake: (amount: number, start: string) => void;
}

function Bears({ picture, extra, onTake }: BearsProps) {
  const { currency, affordable } = picture;
  if (!affordable) return null;
  const { even, later } = affordable;
  const take = (amount: number, start: string, when: string) => (
    <>
      The forecast bears <strong>{money(amount, currency)}</strong> a month{when}.
      {(extra !== amount || picture.start !== start) && (
        <Button look="link" className="!min-h-8" onClick={() => onTake(amount, start)}>
          Take it
        </Button>
      )}
    </>
  );
  const short = picture.own.filter((own, place) => own < (picture.wished[place] ?? 0)).length;
  const strained = picture.strained.map(monthOf);
  return (
    <>
      {even > 0 && take(even, picture.start, "")}
      {even === 0 && later && take(later.amount, later.month, ` from ${monthOf(later.month)} on, and nothing before`)}
      {even === 0 && !later && "The forecast bears nothing beside the minimums within a year."}
      {short > 0 && (
        <span className="block">{short === 1 ? "One month takes" : `${short} months take`} less than wished.</span>
      )}
      {short === 0 && strained.length > 0 && (
        <span className="block text-rust">
          {strained.slice(0, 3).join(", ")}
          {strained.length > 3 && ` and ${strained.length - 3} more months`} cannot bear it.
        </span>
      )}
    </>
  );
}
