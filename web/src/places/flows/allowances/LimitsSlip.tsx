import { keepPreviousData } from "@tanstack/react-query";
import type { KeyboardEvent } from "react";
import { Refused, type Schemas, server } from "@/shared/api/client";
import { money, readAmount } from "@/shared/format";
import { Button } from "@/shared/kit/Button";
import { Select } from "@/shared/kit/fields/Select";
import { Slip } from "@/shared/slip/Slip";
import { useSlip } from "@/shared/slip/useSlip";
import { type SlipForm, useSlipForm } from "@/shared/slip/useSlipForm";

interface Line {
  category: string;
  limit: string;
  every: NonNullable<Schemas["LimitLineModel"]["every"]>;
}

const EVERY = [
  { value: "week", label: "a week" },
  { value: "two_weeks", label: "two weeks" },
  { value: "month", label: "a month" },
  { value: "quarter", label: "a quarter" },
  { value: "year", label: "a year" },
] as const;

const EMPTY: Line = { category: "", limit: "", every: "month" };

/** Limits for many categories at once: what has none yet, and lines for what is new. */
export function LimitsSlip() {
  const { data } = server.useQuery("get", "/api/allowances/table");
  if (!data) return null;
  const lines = [...data.categories.map((category) => ({ ...EMPTY, category })), EMPTY];
  return <Editor initial={{ lines }} currency={data.currency} />;
}

/** The lines that say something, each with its place in the table, and the first that cannot be read, and why. */
function readLines(lines: Line[], currency: string) {
  const readOnes: { place: number; line: Schemas["LimitLineModel"] }[] = [];
  for (const [place, { category, limit, every }] of lines.entries()) {
    if (!limit.trim()) continue;
    const read = readAmount(limit, currency);
    if ("problem" in read) return { lines: readOnes, wrong: { place, text: read.problem } };
    readOnes.push({ place, line: { category: category.trim(), limit: read.amount, every } });
  }
  return { lines: readOnes, wrong: null };
}

/** What the lines come to, as the app reads them. */
function useRead(lines: Schemas["LimitLineModel"][]) {
  return server.useQuery(
    "post",
    "/api/allowances/table",
    { body: { lines } },
    { enabled: lines.length > 0, retry: false, placeholderData: lines.length > 0 ? keepPreviousData : undefined },
  );
}

function Editor({ initial, currency }: { initial: { lines: Line[] }; currency: string }) {
  const { form, values, set } = useSlipForm(initial);
  const { lines } = values;
  const { lines: readOnes, wrong } = readLines(lines, currency);
  const { data, error, refetch } = useRead(readOnes.map(({ line }) => line));
  const slip = useSlip(data && readOnes.length > 0 && !wrong ? data.changes : null, () => true);
  const problemAt = (place: number): string | undefined => {
    if (wrong?.place === place) return wrong.text;
    if (!(error instanceof Refused)) return undefined;
    const at = readOnes.findIndex((readOne) => readOne.place === place);
    return error.details.find(({ loc }) => loc[1] === "lines" && loc[2] === at)?.msg;
  };
  const onSave = () => {
    slip.trySaving();
    if (readOnes.length === 0 || wrong) return;
    // As the lines are now: what was read of them before may still be on its way.
    void refetch().then((now) => now.isSuccess && slip.save(now.data.changes, "Saved"));
  };
  const isEmpty = readOnes.length === 0 && !wrong;
  return (
    <Slip
      title="Limits for several"
      saveName={readOnes.length > 1 ? `Add ${readOnes.length} allowances` : "Add to the plan"}
      isSaving={slip.isSaving}
      problem={slip.wasTried && isEmpty ? "Write a limit beside a category first." : slip.otherProblem([])}
      onSave={onSave}
    >
      <p className="text-sm text-pencil">
        Lines without a limit are left out. What is said for a quarter or a year is held back by the month.
      </p>
      <div className="flex flex-col gap-1.5">
        {lines.map((line, place) => (
          <LineFields
            // biome-ignore lint/suspicious/noArrayIndexKey: lines have no identity but their place
            key={place}
            place={place}
            line={line}
            form={form}
            set={set}
            problem={problemAt(place)}
            share={shareOf(line, data?.lines[readOnes.findIndex((readOne) => readOne.place === place)], currency)}
            currency={currency}
          />
        ))}
      </div>
      <Button look="link" className="self-start" onClick={() => set("lines", [...lines, EMPTY])}>
        Another line
      </Button>
    </Slip>
  );
}

/** What is held back a month of what is said for longer. */
function shareOf(line: Line, read: Schemas["ReadLimit"] | undefined, currency: string): string | undefined {
  if (!read || (line.every !== "quarter" && line.every !== "year")) return undefined;
  return `${money(read.limit, currency)} a month`;
}

interface LineProps {
  place: number;
  line: Line;
  form: SlipForm<{ lines: Line[] }>["form"];
  set: SlipForm<{ lines: Line[] }>["set"];
  problem: string | undefined;
  share: string | undefined;
  currency: string;
}

function LineFields({ place, line, form, set, problem, share, currency }: LineProps) {
  const name = line.category || `line ${place + 1}`;
  const note = `limit-${place}-note`;
  return (
    <div>
      <div className="grid grid-cols-2 gap-1.5 md:grid-cols-[minmax(0,1fr)_6rem_7.5rem]">
        <input
          aria-label={`Category, line ${place + 1}`}
          autoComplete="off"
          placeholder="A new category"
          {...form.register(`lines.${place}.category`)}
          className="field col-span-2 !min-h-9 md:col-span-1"
        />
        <input
          aria-label={`Limit for ${name} (${currency})`}
          aria-invalid={problem !== undefined}
          aria-describedby={problem || share ? note : undefined}
          inputMode="decimal"
          autoComplete="off"
          data-limit={place}
          onKeyDown={toTheNext}
          {...form.register(`lines.${place}.limit`)}
          className="field !min-h-9 text-right"
        />
        <Select
          label={`Every, ${name}`}
          value={line.every}
          options={EVERY}
          onChange={(every) => set(`lines.${place}.every`, every as Line["every"])}
          className="field !min-h-9"
        />
      </div>
      {(problem ?? share) && (
        <p id={note} className={`text-right text-sm ${problem ? "text-rust" : "text-pencil"}`}>
          {problem ?? share}
        </p>
      )}
    </div>
  );
}

/** Enter goes down the column, as in a table on paper; on the last line it is as everywhere. */
function toTheNext(event: KeyboardEvent<HTMLInputElement>) {
  if (event.key !== "Enter" || event.ctrlKey || event.metaKey) return;
  const place = Number(event.currentTarget.dataset.limit);
  const next = event.currentTarget.form?.querySelector<HTMLElement>(`[data-limit="${place + 1}"]`);
  if (!next) return;
  event.preventDefault();
  next.focus();
}
