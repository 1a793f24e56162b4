import type { UseFormReturn } from "react-hook-form";
import { Field } from "@/shared/kit/fields/Field";
import type { EntryForm } from "./entryForm";

interface Props {
  form: UseFormReturn<EntryForm>;
  /** The number after the account's last one; none where it has no numbers, or one is typed. */
  next: string | undefined;
  problem: string | undefined;
  onTake: (number: string) => void;
}

/** The number of a check, as it is printed; the one after the last is offered. */
export function NumberField({ form, next, problem, onTake }: Props) {
  return (
    <div>
      <Field label="Check number" problem={problem}>
        {(ids) => <input {...ids} {...form.register("number")} autoComplete="off" className="field text-right" />}
      </Field>
      {next && (
        <button type="button" className="min-h-6 text-sm text-copper hover:underline" onClick={() => onTake(next)}>
          Take {next}
        </button>
      )}
    </div>
  );
}
