import { Dialog } from "radix-ui";
import type { ReactNode } from "react";
import { Link } from "react-router";
import { server } from "@/shared/api/client";
import { counted } from "@/shared/format";
import { Button } from "@/shared/kit/Button";
import { useReturnFocus } from "@/shared/kit/useReturnFocus";
import { WORDS } from "@/shared/words";

const KEYS: [string, string][] = [
  ["1 to 6", "the places, from Ahead to Accounts"],
  ["/", "find or do anything"],
  ["E", "record an expense or income"],
  ["Ctrl + Z", "undo; with Shift, redo"],
  ["Esc", "close a slip; what was typed is kept"],
  ["Ctrl + Enter", "save a slip; with Shift, save and begin another"],
  ["← → on the tideline", "read a day; with Shift, pick days; Home and End, its ends"],
  ["+ and − on the tideline", "look closer or further; 0, all of it"],
  ["Alt + ↑ ↓ on a line ahead", "a day earlier or later, just this once"],
  [", and . in Review", "the stretch before, and the one after"],
  ["Enter or a digit in Months", "write in a cell; Ctrl + C and V copy and paste a block"],
];

/** Keys, words, and where the data is. */
export function Help({ onClose }: { onClose: () => void }) {
  const onCloseAutoFocus = useReturnFocus();
  return (
    <Dialog.Root open onOpenChange={(open) => !open && onClose()}>
      <Dialog.Portal>
        <Dialog.Overlay className="fixed inset-0 z-40 bg-[#0006]" />
        <Dialog.Content
          aria-describedby={undefined}
          onCloseAutoFocus={onCloseAutoFocus}
          className="fixed top-1/2 left-1/2 z-50 max-h-[88vh] w-[min(56rem,94vw)] -translate-x-1/2 -translate-y-1/2 overflow-y-auto rounded-sm border border-rule-strong bg-sheet p-5 shadow-lg"
        >
          <div className="flex items-baseline justify-between gap-4">
            <Dialog.Title className="text-xl">Help</Dialog.Title>
            <Dialog.Close asChild>
              <Button look="link">Close</Button>
            </Dialog.Close>
          </div>
          <div className="grid gap-x-8 gap-y-4 md:grid-cols-2">
            <List title="Words" items={WORDS} />
            <div className="flex flex-col gap-4">
              <List title="Keys" items={KEYS} />
              <Where onClose={onClose} />
            </div>
          </div>
        </Dialog.Content>
      </Dialog.Portal>
    </Dialog.Root>
  );
}

function List({ title, items }: { title: string; items: [string, ReactNode][] }) {
  return (
    <section>
      <h3 className="mb-1 text-lg">{title}</h3>
      <dl>
        {items.map(([name, text]) => (
          <div key={name} className="border-t border-rule py-1">
            <dt className="inline font-semibold">{name}</dt> <dd className="inline text-pencil">{text}</dd>
          </div>
        ))}
      </dl>
    </section>
  );
}

/** Where the household's file is: copying it copies everything. */
function Where({ onClose }: { onClose: () => void }) {
  const file = server.useQuery("get", "/api/file").data;
  if (!file) return null;
  return (
    <section>
      <h3 className="mb-1 text-lg">Your data</h3>
      <p className="text-pencil">
        Everything is in one file on this computer, <code className="break-all text-ink">{file.path}</code>,{" "}
        {counted(Math.max(1, Math.round(file.size / 1024)))} kB. Nothing leaves it.{" "}
        <Link to="/accounts/your/data" onClick={onClose} className="text-copper underline underline-offset-4">
          Backups, files, password
        </Link>
      </p>
    </section>
  );
}
