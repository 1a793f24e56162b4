import { Field } from "./Field";

interface Props {
  label: string;
  value: string;
  onChange: (value: string) => void;
  problem?: string | undefined;
  className?: string;
}

/** An amount as a person types it. */
export function AmountField({
  label,
  value,
  onChange,
  problem,
  className = "w-36",
  isFirst = false,
}: Props & { isFirst?: boolean }) {
  return (
    <Field label={label} problem={problem} className={className}>
      {(ids) => (
        <input
          {...ids}
          // biome-ignore lint/a11y/noAutofocus: only in what was asked for just now, by key or button
          autoFocus={isFirst}
          inputMode="decimal"
          value={value}
          onFocus={(event) => event.target.select()}
          onChange={(event) => onChange(event.target.value)}
          className="field text-right"
        />
      )}
    </Field>
  );
}

/** A day of the calendar, perhaps within bounds. */
export function DayField({
  label,
  value,
  onChange,
  problem,
  className = "w-44",
  min,
  max,
}: Props & { min?: string; max?: string }) {
  return (
    <Field label={label} problem={problem} className={className}>
      {(ids) => (
        <input
          {...ids}
          type="date"
          min={min}
          max={max}
          value={value}
          onChange={(event) => onChange(event.target.value)}
          className="field"
        />
      )}
    </Field>
  );
}
