import { useEffect, useLayoutEffect, useRef } from "react";
import type { FieldValues, UseFormReturn } from "react-hook-form";
import type { ChangeRequest } from "@/shared/api/client";
import { useWaters } from "@/shared/look/waters";

/**
 * Asks what is typed would do in the moment in which it is typed, before the form is drawn anew: both go on at once.
 *
 * `changesOf` is what the form is laid over the plan as; null where it cannot be read yet.
 */
export function useAskedAhead<Form extends FieldValues>(
  form: UseFormReturn<Form>,
  changesOf: (typed: Form) => ChangeRequest[] | null,
) {
  const { ask } = useWaters();
  const newest = useRef(changesOf);
  useLayoutEffect(() => {
    newest.current = changesOf;
  });
  useEffect(
    () =>
      form.subscribe({
        formState: { values: true },
        callback: ({ values }) => {
          const changes = newest.current(values as Form);
          if (changes) ask(changes);
        },
      }),
    [form, ask],
  );
}
