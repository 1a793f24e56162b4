import { useEffect, useMemo, useRef } from "react";
import {
  type DefaultValues,
  type FieldValues,
  type Path,
  type PathValue,
  useForm,
  useFormState,
  useWatch,
} from "react-hook-form";
import { fitting } from "@/shared/drafts";
import { useView } from "@/shared/view";
import { useDraft } from "./draft";

/** What the fields of a slip need of its form. */
export type SlipForm<Form extends FieldValues> = Pick<ReturnType<typeof useSlipForm<Form>>, "form" | "values" | "set">;

/** The form of a slip: its fields as they are, an id for what may be new, which were touched, and setting one. */
export function useSlipForm<Form extends FieldValues>(initial: Form) {
  // The form keeps its objects and changes what is in them: nothing of it may be remembered by identity.
  "use no memo";
  const form = useForm<Form>({ defaultValues: initial as DefaultValues<Form> });
  const values = useWatch({ control: form.control }) as Form;
  const newId = useMemo(() => crypto.randomUUID(), []);
  const { isDirty, dirtyFields } = useFormState({ control: form.control });
  const draft = useDraft();
  const shape = useRef(initial);
  useEffect(() => {
    draft.onTakeUp((draftValues) => {
      for (const [name, value] of Object.entries(fitting(shape.current, draftValues)))
        form.setValue(name as Path<Form>, value as PathValue<Form, Path<Form>>, { shouldDirty: true });
    });
  }, [draft, form]);
  const text = isDirty ? JSON.stringify(values) : null;
  const begun = useRef(JSON.stringify(initial));
  // What is new is about nothing that could have been changed.
  const isStale = useView().slip?.id != null && JSON.stringify(initial) !== begun.current;
  const { setStale } = draft;
  useEffect(() => setStale(isStale), [isStale, setStale]);
  const wasTyped = useRef(false);
  useEffect(() => {
    // What was kept before stays until something else is typed; what is as it was is no draft.
    if (text !== null) draft.keep(JSON.parse(text));
    else if (wasTyped.current) draft.forget();
    wasTyped.current ||= text !== null;
  }, [text, draft]);
  const touched = { ...dirtyFields } as Record<string, boolean | undefined>;
  return {
    form,
    values,
    newId,
    isDirty,
    touched,
    isTouched: (field: string) => Boolean(touched[field]),
    set: <Name extends Path<Form>>(name: Name, value: PathValue<Form, Name>) =>
      form.setValue(name, value, { shouldDirty: true }),
  };
}
