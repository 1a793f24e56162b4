import { keepPreviousData, useQuery } from "@tanstack/react-query";
import { Command } from "cmdk";
import { Dialog } from "radix-ui";
import { useDeferredValue, useEffect, useState } from "react";
import { useNavigate } from "react-router";
import { useAllowances } from "@/places/ahead/Allowances";
import { showGuide } from "@/places/ahead/guide";
import { answer, api, type Schemas } from "@/shared/api/client";
import { useAccounts, useFlows } from "@/shared/api/hooks";
import { dayText, money } from "@/shared/format";
import { useReturnFocus } from "@/shared/kit/useReturnFocus";
import { chooseTheme } from "@/shared/look/theme";
import { keptSearch, useView } from "@/shared/view";
import { PLACES } from "./places";
import { SaidBlock } from "./say/SaidBlock";
import { Unclear } from "./say/Unclear";
import { SAY, useReadings } from "./say/useReadings";
import { useSaid } from "./say/useSaid";

interface Props {
  open: boolean;
  onClose: () => void;
  onHelp: () => void;
}

/** One box to go anywhere, open anything by name, or begin something. */
export function FindOrDo({ open, onClose, onHelp }: Props) {
  const onCloseAutoFocus = useReturnFocus();
  return (
    <Dialog.Root open={open} onOpenChange={(next) => !next && onClose()}>
      <Dialog.Portal>
        <Dialog.Overlay className="fixed inset-0 z-40 bg-[#0006]" />
        <Dialog.Content
          aria-describedby={undefined}
          onCloseAutoFocus={onCloseAutoFocus}
          className="fixed left-1/2 top-[10vh] z-50 w-[min(34rem,94vw)] -translate-x-1/2 rounded-sm border border-rule-strong bg-sheet shadow-lg"
        >
          <Dialog.Title className="sr-only">Find or do</Dialog.Title>
          <Commands onDone={onClose} onHelp={onHelp} />
        </Dialog.Content>
      </Dialog.Portal>
    </Dialog.Root>
  );
}

function Commands({ onDone, onHelp }: { onDone: () => void; onHelp: () => void }) {
  const navigate = useNavigate();
  const view = useView();
  const [text, setText] = useState("");
  const [answers, setAnswers] = useState<Record<string, string>>({});
  const said = useSaid(text, answers);
  const [selected, select] = useState("");
  const { readings, chosen, act } = useReadings(said, selected, onDone);
  useEffect(() => {
    if (readings.length > 0) select(SAY);
  }, [readings]);
  const accounts = useAccounts().data?.accounts ?? [];
  const flows = useFlows().data?.flows ?? [];
  const allowances = useAllowances().data?.allowances ?? [];
  const doing = (action: () => void) => () => {
    onDone();
    action();
  };
  const going = (pathname: string) => doing(() => navigate({ pathname, search: keptSearch(view.search) }));
  return (
    <Command label="Find or do" filter={rank} value={selected} onValueChange={select}>
      <Command.Input
        autoFocus
        placeholder="Find something, or say it: supper 23.40 yesterday by card"
        value={text}
        onValueChange={(next) => {
          setText(next);
          setAnswers({});
        }}
        className="w-full border-b border-rule bg-transparent px-4 py-3 outline-none"
      />
      <Unclear said={said} text={text} />
      <Command.List className={`overflow-y-auto p-2 ${chosen ? "max-h-[30vh]" : "max-h-[60vh]"}`}>
        <Command.Empty className="px-2 py-3 text-pencil">Nothing goes by that name.</Command.Empty>
        {readings.length > 0 && (
          <Command.Group heading="Said" className={GROUP}>
            {readings.map((reading, place) => (
              <Item
                key={reading.sentence}
                value={`${SAY}${place || ""}`}
                name={reading.sentence}
                also={text}
                onSelect={() => act(reading)}
              />
            ))}
          </Command.Group>
        )}
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
          {accounts
            .filter(({ account }) => account.loan)
            .map(({ account }) => (
              <Item
                key={account.id}
                value={`check ${account.id} statement ${account.name}`}
                name={`Check a statement: ${account.name}`}
                onSelect={going(`/debts/${encodeURIComponent(account.id)}/statement`)}
              />
            ))}
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
        <Command.Group heading="Go to" className={GROUP}>
          {PLACES.map((place) => (
            <Item key={place.path} name={place.name} hint={place.key} onSelect={going(place.path)} />
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
        <Entries text={text} onDone={onDone} />
      </Command.List>
      {chosen && (
        <SaidBlock
          reading={chosen}
          answers={answers}
          onAnswer={(field, value) => setAnswers({ ...answers, [field]: value })}
          onDo={() => act(chosen)}
          onDone={onDone}
        />
      )}
    </Command>
  );
}

/** What is recorded: by payee, note, tag or amount. */
function Entries({ text, onDone }: { text: string; onDone: () => void }) {
  const { openSlip } = useView();
  const wanted = useDeferredValue(text.trim());
  const found = useQuery({
    queryKey: ["find", wanted],
    enabled: wanted.length >= 2,
    placeholderData: keepPreviousData,
    queryFn: ({ signal }) =>
      answer<Schemas["FoundEntries"]>(api.GET("/api/entries/find", { params: { query: { text: wanted } }, signal })),
  }).data?.entries;
  if (!found?.length || wanted.length < 2) return null;
  return (
    <Command.Group heading="Entries" className={GROUP} forceMount>
      {found.map((entry) => (
        <Command.Item
          key={entry.id}
          forceMount
          value={`entry ${entry.id}`}
          onSelect={() => {
            onDone();
            openSlip("entry", entry.id);
          }}
          className="flex min-h-10 cursor-pointer items-center justify-between gap-4 rounded-sm px-2 data-[selected=true]:bg-hover"
        >
          <span className="truncate">{entry.name}</span>
          <span className="text-sm whitespace-nowrap text-pencil">
            {dayText(entry.date)} {entry.date.slice(0, 4)}, {money(entry.amount, entry.currency)}
          </span>
        </Command.Item>
      ))}
    </Command.Group>
  );
}

/** Names that begin so come first, then words that do, then what merely holds the letters in a row. */
function rank(value: string, search: string, keywords?: string[]): number {
  const wanted = search.trim().toLowerCase();
  const texts = [...(keywords ?? []), value].map((text) => text.toLowerCase());
  if (texts.some((text) => text.startsWith(wanted))) return 1;
  if (texts.some((text) => text.split(/[^\p{L}\p{N}]+/u).some((word) => word.startsWith(wanted)))) return 0.7;
  // Three letters stand within too many words to mean one of them.
  return wanted.length > 3 && texts.some((text) => text.includes(wanted)) ? 0.3 : 0;
}

const GROUP =
  "[&_[cmdk-group-heading]]:px-2 [&_[cmdk-group-heading]]:py-1 [&_[cmdk-group-heading]]:text-sm [&_[cmdk-group-heading]]:text-pencil";

function Item(props: { name: string; value?: string; hint?: string; also?: string; onSelect: () => void }) {
  return (
    <Command.Item
      value={props.value ?? props.name}
      keywords={props.also ? [props.name, props.also] : [props.name]}
      onSelect={props.onSelect}
      className="flex min-h-10 cursor-pointer items-center justify-between gap-4 rounded-sm px-2 data-[selected=true]:bg-hover"
    >
      <span className={props.also ? "" : "truncate"}>{props.name}</span>
      {props.hint && <span className="truncate text-sm text-pencil">{props.hint}</span>}
    </Command.Item>
  );
}
