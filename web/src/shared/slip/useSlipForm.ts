import { useMemo } from "react";
import { type DefaultValues, type FieldValues, type Path, type PathValue, useForm, useWatch } from "react-hook-form";

/** The form of a slip: its fields as they are, an id for what may be new, which were touched, and setting one. */
export function useSlipForm<Form extends FieldValues>(initial: Form) {
  const form = useForm<Form>({ defaultValues: initial as DefaultValues<Form> });
  const values = useWatch({ control: form.control }) as Form;
  const newId = useMemo(() => crypto.randomUUID(), []);
  const dirty = form.formState.dirtyFields as Record<string, unknown>;
  return {
    form,
    values,
    newId,
    isDirty: form.formState.isDirty,
    isTouched: (field: string) => Boolean(dirty[field]),
    set: <Name extends Path<Form>>(name: Name, value: PathValue<Form, Name>) =>
      form.setValue(name, value, { shouldDirty: true }),
  };
}
