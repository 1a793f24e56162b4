import type { Schemas } from "@/shared/api/client";
import { money } from "@/shared/format";
import { Field } from "@/shared/kit/fields/Field";
import { Select } from "@/shared/kit/fields/Select";
import { useWaters } from "@/shared/look/waters";
import type { SlipForm } from "@/shared/slip/useSlipForm";
import type { EntryForm } from "./entryForm";

export type WhereProps = SlipForm<EntryForm> & {
  entry: string;
  accounts: Schemas["Account"][];
  currencyOf: (account: string) => string;
  problem: (field: string) => string | undefined;
};

/** From which account, onto which, and when. */
export function WhereFields({ entry, accounts, currencyOf, form, values, problem, set }: WhereProps) {
  const arriving = currencyOf(values.to_account);
  const byRate = useArrives(entry, values.to_account);
  const arrivesHint =
    byRate && values.arrives.trim() === ""
      ? `${money(byRate, arriving)} by the day's rate.`
      : "Empty: by the day's rate.";
  return (
    <div className="grid grid-cols-2 gap-3">
      <Field label={values.way === "received" ? "Onto" : "From"} problem={problem("account") ?? problem("legs")}>
        {(ids) => (
          <AccountSelect ids={ids} value={values.account} accounts={accounts} onChange={(to) => set("account", to)} />
        )}
      </Field>
      {values.way === "moved" && (
        <Field label="To" problem={problem("to_account")}>
          {(ids) => (
            <AccountSelect
              ids={ids}
              value={values.to_account}
              accounts={accounts.filter((account) => account.id !== values.account)}
              onChange={(to) => set("to_account", to)}
            />
          )}
        </Field>
      )}
      {values.way === "moved" && values.to_account !== "" && arriving !== currencyOf(values.account) && (
        <Field label={`Arrives (${arriving})`} hint={arrivesHint} problem={problem("arrives")}>
          {(ids) => <input {...ids} {...form.register("arrives")} inputMode="decimal" className="field text-right" />}
        </Field>
      )}
      <Field label="Day" problem={problem("date")}>
        {(ids) => <input {...ids} type="date" {...form.register("date")} className="field" />}
      </Field>
    </div>
  );
}

/** What arrives of money that moves, as the app has worked it out. */
function useArrives(id: string, account: string): number | undefined {
  const legs = useWaters().drafted?.entries.find((entry) => entry.id === id)?.legs;
  return legs?.find((leg) => leg.account === account)?.amount;
}

interface AccountSelectProps {
  ids: object;
  value: string;
  accounts: Schemas["Account"][];
  onChange: (account: string) => void;
}

function AccountSelect({ ids, value, accounts, onChange }: AccountSelectProps) {
  return (
    <Select
      {...ids}
      value={value}
      onChange={onChange}
      options={accounts.map((account) => ({ value: account.id, label: account.name }))}
    />
  );
}
