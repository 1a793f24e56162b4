import type { UseFormReturn } from "react-hook-form";
import { Fold } from "@/shared/kit/Fold";
import { Field } from "@/shared/kit/fields/Field";
import type { AccountForm } from "./accountForm";

interface Props {
  form: UseFormReturn<AccountForm>;
  values: AccountForm;
  problem: (field: string) => string | undefined;
}

/** A card's statement that closed before the card was begun here: what of it is still to be paid, and when. */
export function BegunFields({ form, values, problem }: Props) {
  const day = (name: "begun_closing" | "begun_due", label: string, field: string) => (
    <Field label={label} problem={problem(`card.begun_with.${field}`)}>
      {(ids) => <input {...ids} type="date" {...form.register(`card.${name}`)} className="field" />}
    </Field>
  );
  return (
    <Fold label="A statement came before that" isSet={values.card.begun_balance !== ""}>
      <div className="grid grid-cols-2 gap-3">
        <Field label="Still to be paid of it" problem={problem("card.begun_with.balance")}>
          {(ids) => (
            <input {...ids} {...form.register("card.begun_balance")} inputMode="decimal" className="field text-right" />
          )}
        </Field>
        {day("begun_closing", "It closed on", "closing")}
        {day("begun_due", "It is due on", "due")}
      </div>
    </Fold>
  );
}
