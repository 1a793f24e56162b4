import { Command } from "cmdk";
import { Dialog } from "radix-ui";
import { useNavigate } from "react-router";
import { useAccounts, useFlows } from "@/shared/api/hooks";
import { chooseTheme } from "@/shared/theme";
import { keptSearch, useView } from "@/shared/view";
import { PLACES } from "./places";

interface Props {
  open: boolean;
  onClose: () => void;
}

/** One box to go anywhere, open anything by name, or begin something. */
export function FindOrDo({ open, onClose }: Props) {
  return (
    <Dialog.Root open={open} onOpenChange={(next) => !next && onClose()}>
      <Dialog.Portal>
        <Dialog.Overlay className="fixed inset-0 z-40 bg-[#0006]" />
        <Dialog.Content
          aria-describedby={undefined}
          className="fixed left-1/2 top-[10vh] z-50 w-[min(34rem,94vw)] -translate-x-1/2 rounded-sm border border-rule-strong bg-sheet shadow-lg"
        >
          <Dialog.Title className="sr-only">Find or do</Dialog.Title>
          <Commands onDone={onClose} />
        </Dialog.Content>
      </Dialog.Portal>
    </Dialog.Root>
  );
}

function Commands({ onDone }: { onDone: () => void }) {
  const navigate = useNavigate();
  const view = useView();
  const accounts = useAccounts().data?.accounts ?? [];
  const flows = useFlows().data?.flows ?? [];
  const doing = (action: () => void) => () => {
    onDone();
    action();
  };
  return (
    <Command label="Find or do">
      <Command.Input
        autoFocus
        placeholder="A flow, an account, a place, or something to do"
        className="w-full border-b border-rule bg-transparent px-4 py-3 outline-none"
      />
      <Command.List className="max-h-[60vh] overflow-y-auto p-2">
        <Command.Empty className="px-2 py-3 text-pencil">Nothing goes by that name.</Command.Empty>
        <Command.Group heading="Do" className={GROUP}>
          <Item name="Record an expense or income" onSelect={doing(() => view.openSlip("entry", null))} />
          <Item name="Add a bill" onSelect={doing(() => view.openSlip("flow", null, "bill"))} />
          <Item name="Add income" onSelect={doing(() => view.openSlip("flow", null, "income"))} />
          <Item name="Add a transfer" onSelect={doing(() => view.openSlip("flow", null, "transfer"))} />
          <Item name="Add an allowance" onSelect={doing(() => view.openSlip("allowance", null))} />
          <Item name="Add a loan" onSelect={doing(() => view.openSlip("loan", null))} />
          <Item
            name="Try a loan"
            onSelect={doing(() => navigate({ pathname: "/debts/try", search: keptSearch(view.search) }))}
          />
          <Item
            name="Plan the way out of debt"
            onSelect={doing(() => navigate({ pathname: "/debts/way-out", search: keptSearch(view.search) }))}
          />
          <Item
            name="See interest and property tax by year"
            onSelect={doing(() => navigate({ pathname: "/debts/years", search: keptSearch(view.search) }))}
          />
          <Item
            name="Find loan payments recorded whole"
            onSelect={doing(() => navigate({ pathname: "/debts/whole", search: keptSearch(view.search) }))}
          />
          {accounts
            .filter(({ account }) => account.loan)
            .map(({ account }) => (
              <Item
                key={account.id}
                value={`check ${account.id} statement ${account.name}`}
                name={`Check a statement: ${account.name}`}
                onSelect={doing(() =>
                  navigate({
                    pathname: `/debts/${encodeURIComponent(account.id)}/statement`,
                    search: keptSearch(view.search),
                  }),
                )}
              />
            ))}
          <Item name="Set money aside" onSelect={doing(() => view.openSlip("aside", null))} />
          <Item name="Add an account" onSelect={doing(() => view.openSlip("account", null))} />
          <Item name="Change the household's settings" onSelect={doing(() => view.openSlip("household", "settings"))} />
          <Item name="Use light colours" onSelect={doing(() => chooseTheme("light"))} />
          <Item name="Use dark colours" onSelect={doing(() => chooseTheme("dark"))} />
          <Item name="Use the system's colours" onSelect={doing(() => chooseTheme("system"))} />
        </Command.Group>
        <Command.Group heading="Go to" className={GROUP}>
          {PLACES.map((place) => (
            <Item
              key={place.path}
              name={place.name}
              hint={place.key}
              onSelect={doing(() => navigate({ pathname: place.path, search: keptSearch(view.search) }))}
            />
          ))}
        </Command.Group>
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
                onSelect={doing(() =>
                  navigate({
                    pathname: `/debts/${account.card ? "cards/" : ""}${encodeURIComponent(account.id)}`,
                    search: keptSearch(view.search),
                  }),
                )}
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
      </Command.List>
    </Command>
  );
}

const GROUP =
  "[&_[cmdk-group-heading]]:px-2 [&_[cmdk-group-heading]]:py-1 [&_[cmdk-group-heading]]:text-sm [&_[cmdk-group-heading]]:text-pencil";

function Item(props: { name: string; value?: string; hint?: string; onSelect: () => void }) {
  return (
    <Command.Item
      value={props.value ?? props.name}
      onSelect={props.onSelect}
      className="flex min-h-10 cursor-pointer items-center justify-between gap-4 rounded-sm px-2 data-[selected=true]:bg-hover"
    >
      <span className="truncate">{props.name}</span>
      {props.hint && <span className="truncate text-sm text-pencil">{props.hint}</span>}
    </Command.Item>
  );
}
