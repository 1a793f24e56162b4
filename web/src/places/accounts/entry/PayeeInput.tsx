import type { UseFormReturn } from "react-hook-form";
import type { Schemas } from "@/shared/api/client";
import type { EntryForm } from "./entryForm";

interface Props {
  ids: { id: string };
  form: UseFormReturn<EntryForm>;
  payees: Schemas["PayeeMemory"][];
  /** The category that stands there unasked. */
  preset: string | undefined;
}

/** A payee known from before brings back the category chosen last; a new one takes none unasked. */
export function PayeeInput({ ids, form, payees, preset }: Props) {
  const field = form.register("payee", {
    onChange: (event) => {
      const known = payees.find((memory) => memory.payee.toLowerCase() === event.target.value.trim().toLowerCase());
      const [part, ...more] = form.getValues("parts");
      if (more.length > 0 || (part?.category && part.category !== preset)) return;
      const category = event.target.value.trim() ? (known?.category ?? "") : (preset ?? "");
      form.setValue("parts", [{ category, amount: "" }], { shouldDirty: true });
    },
  });
  return (
    <>
      <input {...ids} {...field} list={`${ids.id}-known`} autoComplete="off" className="field" />
      <datalist id={`${ids.id}-known`}>
        {payees.slice(0, 200).map((memory) => (
          <option key={memory.payee} value={memory.payee} />
        ))}
      </datalist>
    </>
  );
}
