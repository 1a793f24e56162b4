import { type ReactNode, useId } from "react";

export interface FieldIds {
  id: string;
  "aria-describedby": string | undefined;
  "aria-invalid": boolean;
}

interface Props {
  label: string;
  hint?: string | undefined;
  problem?: string | undefined;
  className?: string;
  children: (ids: FieldIds) => ReactNode;
}

/** A label, its control, and below it what is wrong or a hint. */
export function Field({ label, hint, problem, className = "", children }: Props) {
  const id = useId();
  const note = problem ?? hint;
  return (
    <div className={className}>
      <label htmlFor={id} className="mb-0.5 block text-sm text-pencil">
        {label}
      </label>
      {children({ id, "aria-describedby": note ? `${id}-note` : undefined, "aria-invalid": Boolean(problem) })}
      {note && (
        <p id={`${id}-note`} className={`mt-1 text-sm ${problem ? "text-rust" : "text-pencil"}`}>
          {note}
        </p>
      )}
    </div>
  );
}

/** Several controls under one name, for screen readers too. */
export function FieldGroup({
  label,
  problem,
  children,
}: {
  label: string;
  problem?: string | undefined;
  children: ReactNode;
}) {
  const id = useId();
  return (
    <fieldset aria-describedby={problem ? id : undefined} data-wrong={problem ? true : undefined}>
      <legend className="mb-0.5 text-sm text-pencil">{label}</legend>
      {children}
      {problem && (
        <p id={id} className="mt-1 text-sm text-rust">
          {problem}
        </p>
      )}
    </fieldset>
  );
}
