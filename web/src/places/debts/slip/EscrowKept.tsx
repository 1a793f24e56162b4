import type { UseFormReturn } from "react-hook-form";
import type { Account } from "@/shared/api/client";
import { Field } from "@/shared/kit/fields/Field";
import { Select } from "@/shared/kit/fields/Select";
import { type LoanForm, NEW_ESCROW } from "./loanForm";

interface Props {
  form: UseFormReturn<LoanForm>;
  values: LoanForm;
  accounts: Account[];
  currency: string;
  problem: (field: string) => string | undefined;
}

/** Where the escrow parts of a loan's payments go: an account made with it, another one, or they are spent. */
export function EscrowKept({ form, values, accounts, currency, problem }: Props) {
  const options = [
    { value: NEW_ESCROW, label: "An account made for it" },
    ...accounts.filter(({ kind }) => kind === "escrow").map(({ id, name }) => ({ value: id, label: name })),
    { value: "", label: "Nowhere: counted as spent" },
  ];
  return (
    <div className="grid grid-cols-2 gap-3">
      <Field label="Escrow goes to" problem={problem("escrow_account")}>
        {(ids) => (
          <Select
            {...ids}
            value={values.escrow_account}
            options={options}
            onChange={(next) => form.setValue("escrow_account", next, { shouldDirty: true })}
          />
        )}
      </Field>
      {values.escrow_account === NEW_ESCROW && (
        <Field label={`In it when the loan begins here (${currency})`} problem={problem("new_escrow")}>
          {(ids) => (
            <input {...ids} {...form.register("escrow_held")} inputMode="decimal" className="field text-right" />
          )}
        </Field>
      )}
    </div>
  );
}
