import { Command } from "cmdk";
import { useAllowances } from "@/places/ahead/Allowances";
import { useAccounts, useFlows } from "@/shared/api/hooks";
import { useView } from "@/shared/view";
import { GROUP, Item, useDoing } from "./Item";

/** Everything of the household that has a name. */
export function NamedGroups({ onDone }: { onDone: () => void }) {
  const view = useView();
  const { doing, going } = useDoing(onDone);
  const accounts = useAccounts().data?.accounts ?? [];
  const flows = useFlows().data?.flows ?? [];
  const allowances = useAllowances().data?.allowances ?? [];
  return (
    <>
      <Command.Group heading="Flows" className={GROUP}>
        {flows.map(({ flow, sentence }) => (
          <Item
            key={flow.id}
            value={`flow ${flow.id} ${flow.name} ${flow.payee}`}
            name={flow.name}
            hint={sentence}
            onSelect={doing(() => view.openSlip("flow", flow.id))}
          />
        ))}
      </Command.Group>
      <Command.Group heading="Debts" className={GROUP}>
        {accounts
          .filter(({ account }) => account.loan || account.card)
          .map(({ account }) => (
            <Item
              key={account.id}
              value={`debt ${account.id} ${account.name}`}
              name={account.name}
              hint={account.loan ? "its schedule" : "its statements"}
              onSelect={going(`/debts/${account.card ? "cards/" : ""}${encodeURIComponent(account.id)}`)}
            />
          ))}
      </Command.Group>
      <Command.Group heading="Accounts" className={GROUP}>
        {accounts.map(({ account }) => (
          <Item
            key={account.id}
            value={`account ${account.id} ${account.name}`}
            name={account.name}
            onSelect={doing(() => view.openSlip(account.loan ? "loan" : "account", account.id))}
          />
        ))}
      </Command.Group>
      <Command.Group heading="Allowances" className={GROUP}>
        {allowances.map(({ allowance }) => (
          <Item
            key={allowance.id}
            value={`allowance ${allowance.id} ${allowance.name}`}
            name={allowance.name}
            hint="allowance"
            onSelect={doing(() => view.openSlip("allowance", allowance.id))}
          />
        ))}
      </Command.Group>
    </>
  );
}
