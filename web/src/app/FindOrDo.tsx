import { keepPreviousData } from "@tanstack/react-query";
import { Command } from "cmdk";
import { Dialog } from "radix-ui";
import { useDeferredValue, useEffect, useState } from "react";
import { server } from "@/shared/api/client";
import { dayText, money } from "@/shared/format";
import { useReturnFocus } from "@/shared/kit/useReturnFocus";
import { useView } from "@/shared/view";
import { DoGroup } from "./find/DoGroup";
import { GROUP, Item, useDoing } from "./find/Item";
import { NamedGroups } from "./find/NamedGroups";
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
  const [text, setText] = useState("");
  const [answers, setAnswers] = useState<Record<string, string>>({});
  const said = useSaid(text, answers);
  const [selected, select] = useState("");
  const { readings, chosen, act } = useReadings(said, selected, onDone);
  useEffect(() => {
    if (readings.length > 0) select(SAY);
  }, [readings]);
  const { going } = useDoing(onDone);
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
        <DoGroup onDone={onDone} onHelp={onHelp} />
        <Command.Group heading="Go to" className={GROUP}>
          {PLACES.map((place) => (
            <Item key={place.path} name={place.name} hint={place.key} onSelect={going(place.path)} />
          ))}
        </Command.Group>
        <NamedGroups onDone={onDone} />
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
  const found = server.useQuery(
    "get",
    "/api/entries/find",
    { params: { query: { text: wanted } } },
    { enabled: wanted.length >= 2, placeholderData: keepPreviousData },
  ).data?.entries;
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
