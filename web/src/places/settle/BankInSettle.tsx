import { useState } from "react";
import { BankSays } from "@/places/accounts/bank/BankSays";
import { useAccounts, useHousehold } from "@/shared/api/hooks";
import { Fold } from "@/shared/kit/Fold";
import { Field } from "@/shared/kit/fields/Field";
import { Select } from "@/shared/kit/fields/Select";

/** While one is at it: whether the bank shows the same balance. */
export function BankInSettle() {
  const first = useHousehold().data?.beginnings.account;
  const rows = (useAccounts().data?.accounts ?? []).filter((row) => row.has_bank && !row.is_closed);
  const [chosen, setChosen] = useState<string | null>(null);
  const row = rows.find(({ account }) => account.id === (chosen ?? first)) ?? rows[0];
  if (!row) return null;
  return (
    <div className="mt-6">
      <Fold label="Does the bank say the same?" isSet={false}>
        <Field label="Of which account" className="max-w-72">
          {(ids) => (
            <Select
              {...ids}
              value={row.account.id}
              options={rows.map(({ account }) => ({ value: account.id, label: account.name }))}
              onChange={setChosen}
            />
          )}
        </Field>
        <BankSays key={row.account.id} row={row} />
      </Fold>
    </div>
  );
}
