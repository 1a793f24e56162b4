import { ToggleGroup } from "radix-ui";
import type { Option } from "./Select";

const ITEM =
  "min-h-9 min-w-9 rounded-sm border border-rule-strong px-2.5 text-sm hover:bg-hover data-[state=on]:border-ink data-[state=on]:bg-ink data-[state=on]:text-paper";

interface OneProps {
  label: string;
  value: string;
  onChange: (value: string) => void;
  options: readonly Option[];
}

/** One of a few, all in sight. */
export function ChooseOne({ label, value, onChange, options }: OneProps) {
  return (
    <ToggleGroup.Root
      type="single"
      aria-label={label}
      value={value}
      onValueChange={(next) => next && onChange(next)}
      className="flex flex-wrap gap-1"
    >
      {options.map((option) => (
        <ToggleGroup.Item key={option.value} value={option.value} className={ITEM}>
          {option.label}
        </ToggleGroup.Item>
      ))}
    </ToggleGroup.Root>
  );
}

interface ManyProps {
  label: string;
  values: string[];
  onChange: (values: string[]) => void;
  options: readonly (Option & { name?: string })[];
  className?: string;
}

/** Any of a few, all in sight; `name` is read out where the label is short. */
export function ChooseMany({ label, values, onChange, options, className = "flex flex-wrap gap-1" }: ManyProps) {
  return (
    <ToggleGroup.Root type="multiple" aria-label={label} value={values} onValueChange={onChange} className={className}>
      {options.map((option) => (
        <ToggleGroup.Item key={option.value} value={option.value} aria-label={option.name} className={ITEM}>
          {option.label}
        </ToggleGroup.Item>
      ))}
    </ToggleGroup.Root>
  );
}
