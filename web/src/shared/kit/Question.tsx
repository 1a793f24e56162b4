import type { FormEvent, ReactNode } from "react";
import { Button } from "./Button";

interface Props {
  ask: { mutate: () => void; error: Error | null };
  /** The answer in words, once there is one. */
  saying?: string | undefined;
  children: ReactNode;
}

/** A sentence with gaps to fill in, asked at a press, and its answer beside it. */
export function Question({ ask, saying, children }: Props) {
  const onSubmit = (event: FormEvent) => {
    event.preventDefault();
    ask.mutate();
  };
  return (
    <form onSubmit={onSubmit} className="flex flex-wrap items-center gap-x-3 gap-y-1 border-b border-rule py-2">
      {children}
      <Button type="submit" className="!min-h-9">
        Work it out
      </Button>
      <output className={ask.error ? "text-rust" : "font-semibold"}>{ask.error?.message ?? saying}</output>
    </form>
  );
}

/** An amount within a sentence. */
export function AmountGap({
  label,
  value,
  onChange,
}: {
  label: string;
  value: string;
  onChange: (value: string) => void;
}) {
  return (
    <input
      aria-label={label}
      inputMode="decimal"
      value={value}
      onChange={(event) => onChange(event.target.value)}
      className="field !w-36 text-right"
    />
  );
}
