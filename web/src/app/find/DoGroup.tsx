import { Command } from "cmdk";
import { showGuide } from "@/places/ahead/guide";
import { useAccounts } from "@/shared/api/hooks";
import { chooseTheme } from "@/shared/look/theme";
import { useView } from "@/shared/view";
import { GROUP, Item, useDoing } from "./Item";

interface Props {
  onDone: () => void;
  onHelp: () => void;
}

/** Everything that can be begun from anywhere. */
export function DoGroup({ onDone, onHelp }: Props) {
  const view = useView();
  const { doing, going } = useDoing(onDone);
  return (
    <Command.Group heading="Do" className={GROUP}>
      <Item name="Record an expense or income" hint="E" onSelect={doing(() => view.openSlip("entry", null))} />
      <Item name="Add a bill" onSelect={doing(() => view.openSlip("flow", null, "bill"))} />
      <Item name="Add income" onSelect={doing(() => view.openSlip("flow", null, "income"))} />
      <Item name="Add a transfer" onSelect={doing(() => view.openSlip("flow", null, "transfer"))} />
      <Item name="Add an allowance" onSelect={doing(() => view.openSlip("allowance", null))} />
      <Item name="Add limits for several categories" onSelect={doing(() => view.openSlip("limits", null))} />
      <Item name="Add a loan" onSelect={doing(() => view.openSlip("loan", null))} />
      <Item name="Add a card or line" onSelect={doing(() => view.openSlip("account", null, "credit_card"))} />
      <Item name="See the entries of all accounts" onSelect={going("/accounts/your/entries")} />
      <Item name="Bring a file from a bank" onSelect={going("/accounts/your/bank-files")} />
      <Item name="Check the bank's interest" onSelect={going("/accounts/your/interest")} />
      <Item name="Try a loan" onSelect={going("/debts/try")} />
      <Item name="Plan the way out of debt" onSelect={going("/debts/way-out")} />
      <Item name="See interest and property tax by year" onSelect={going("/debts/years")} />
      <Item name="Find loan payments recorded whole" onSelect={going("/debts/whole")} />
      <Checks onDone={onDone} />
      <Item name="Help: keys, words, where the data is" hint="?" onSelect={doing(onHelp)} />
      <Item name="Show the guide" onSelect={doing(showGuide)} />
      <Item name="Print the year list of bills" onSelect={going("/ahead/year")} />
      <Item name="See what a year came to" onSelect={going("/review/year")} />
      <Item name="See how the goals stand" onSelect={going("/review/goals")} />
      <Item name="See what changed, undo back to it" onSelect={going("/review/changes")} />
      <Item name="See what subscriptions have cost" onSelect={going("/review/subscriptions")} />
      <Item name="See months of categories" onSelect={going("/review/months")} />
      <Item name="See what was tagged for the tax return" onSelect={going("/review/tags")} />
      <Item name="Back up, restore a backup" onSelect={going("/accounts/your/data")} />
      <Item
        name="Export everything: plan, entries as CSV, workbook, receipts"
        onSelect={going("/accounts/your/data")}
      />
      <Item name="Bring a whole plan" onSelect={going("/accounts/your/data")} />
      <Item name="Set or change the password" onSelect={going("/accounts/your/data")} />
      <Item name="Begin a what-if" onSelect={going("/ahead/what-ifs")} />
      <Item name="Add a category" onSelect={doing(() => view.openSlip("category", null))} />
      <Item name="Set money aside" onSelect={doing(() => view.openSlip("aside", null))} />
      <Item name="Add an account" onSelect={doing(() => view.openSlip("account", null))} />
      <Item name="Change the household's settings" onSelect={doing(() => view.openSlip("household", "settings"))} />
      <Item name="Use light colours" onSelect={doing(() => chooseTheme("light"))} />
      <Item name="Use dark colours" onSelect={doing(() => chooseTheme("dark"))} />
      <Item name="Use the system's colours" onSelect={doing(() => chooseTheme("system"))} />
    </Command.Group>
  );
}

/** A statement to check for each loan. */
function Checks({ onDone }: { onDone: () => void }) {
  const accounts = useAccounts().data?.accounts ?? [];
  const { going } = useDoing(onDone);
  return accounts
    .filter(({ account }) => account.loan)
    .map(({ account }) => (
      <Item
        key={account.id}
        value={`check ${account.id} statement ${account.name}`}
        name={`Check a statement: ${account.name}`}
        onSelect={going(`/debts/${encodeURIComponent(account.id)}/statement`)}
      />
    ));
}
