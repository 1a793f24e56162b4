import { type ClipboardEvent, useState } from "react";
import { plusDays } from "@/shared/format";
import { Button } from "@/shared/kit/Button";
import { FieldGroup } from "@/shared/kit/fields/Field";
import { AddRow, RemoveRow } from "@/shared/kit/RowButtons";
import { readDay } from "@/shared/readDay";
import type { OwnDate } from "./flowForm";

interface Props {
  label: string;
  dates: OwnDate[];
  /** The amount of a date that has none of its own, as it is typed above. */
  usual: string;
  currency: string;
  first: string;
  problem: string | undefined;
  onChange: (dates: OwnDate[]) => void;
}

/** Dates of its own, each with its amount where that is another; a table of both may be pasted. */
export function OwnDates({ label, dates, usual, currency, first, problem, onChange }: Props) {
  const [isPasting, setPasting] = useState(false);
  const [unread, setUnread] = useState<string | null>(null);
  const shown = dates.length ? dates : [{ day: "", amount: "" }];
  const set = (place: number, what: Partial<OwnDate>) =>
    onChange(shown.map((date, at) => (at === place ? { ...date, ...what } : date)));
  const take = (text: string) => {
    const { read, problems } = readTable(text);
    const days = new Set(read.map(({ day }) => day));
    setUnread(problems);
    if (read.length > 0) onChange([...dates.filter(({ day }) => day && !days.has(day)), ...read].sort(byDay));
    return read.length > 0;
  };
  const onPaste = (event: ClipboardEvent) => {
    const text = event.clipboardData.getData("text");
    if (!/[\n\t]/.test(text.trim()) || !take(text)) return;
    event.preventDefault();
  };
  return (
    <FieldGroup label={label} problem={problem ?? unread ?? undefined}>
      <ul className="flex flex-col gap-1.5" onPaste={onPaste}>
        {shown.map((date, place) => (
          // biome-ignore lint/suspicious/noArrayIndexKey: a date being written has no identity but its place
          <li key={place} className="flex gap-1.5">
            <input
              type="date"
              aria-label={`${label}, date ${place + 1}`}
              value={date.day}
              onChange={(event) => set(place, { day: event.target.value })}
              className="field min-w-0 flex-1"
            />
            <input
              aria-label={`${label}, amount ${place + 1} (${currency})`}
              inputMode="decimal"
              autoComplete="off"
              value={date.amount}
              placeholder={usual}
              onChange={(event) => set(place, { amount: event.target.value })}
              className="field !w-28 text-right"
            />
            <RemoveRow
              name={`Remove date ${place + 1}`}
              onClick={() => onChange(dates.filter((_, at) => at !== place))}
            />
          </li>
        ))}
      </ul>
      <div className="flex flex-wrap gap-x-3">
        <AddRow
          name="One more date"
          onClick={() =>
            onChange([...dates, { day: plusDays(dates.at(-1)?.day || first, dates.length ? 7 : 0), amount: "" }])
          }
        />
        <Button look="link" className="!min-h-9 !px-1" aria-expanded={isPasting} onClick={() => setPasting(!isPasting)}>
          From a table…
        </Button>
      </div>
      {isPasting && <Pasting onRead={(text) => take(text) && setPasting(false)} />}
    </FieldGroup>
  );
}

/** A place to paste or write a table into. */
function Pasting({ onRead }: { onRead: (text: string) => void }) {
  const [text, setText] = useState("");
  return (
    <div className="border-l-2 border-copper pl-3">
      <label className="block text-sm text-pencil">
        A date on each line, and its amount after it
        <textarea
          // biome-ignore lint/a11y/noAutofocus: only in what was asked for just now
          autoFocus
          rows={4}
          value={text}
          onChange={(event) => setText(event.target.value)}
          className="field text-ink"
        />
      </label>
      <Button className="mt-1 !min-h-9" disabled={text.trim() === ""} onClick={() => onRead(text)}>
        Read these
      </Button>
    </div>
  );
}

const byDay = (a: OwnDate, b: OwnDate) => (a.day < b.day ? -1 : 1);

/** Lines of a date and an amount, parted by a tab, a semicolon or spaces; and which lines could not be read. */
function readTable(text: string): { read: OwnDate[]; problems: string | null } {
  const read: OwnDate[] = [];
  const odd: string[] = [];
  for (const line of text.split(/\r?\n/).filter((written) => written.trim())) {
    const ownDate = readLine(line.trim());
    if (ownDate) read.push(ownDate);
    else odd.push(line.trim().slice(0, 40));
  }
  const more = odd.length > 1 ? `, and ${odd.length - 1} more` : "";
  return { read, problems: odd.length ? `There is no date that can be read in “${odd[0]}”${more}.` : null };
}

function readLine(line: string): OwnDate | null {
  const cells = line.split(/\t|;/).map((cell) => cell.trim());
  const day = readDay(cells[0] ?? "");
  if (day) return { day, amount: cells.slice(1).find(Boolean) ?? "" };
  // Parted by spaces alone, the amount is what stands last.
  const [, date = "", amount = ""] = line.match(/^(.*\S)\s+(\S+)$/) ?? [];
  const spaced = readDay(date.replace(/,$/, ""));
  return spaced ? { day: spaced, amount } : null;
}
