import { useQuery } from "@tanstack/react-query";
import type { ReactNode } from "react";
import { answer, api, type Schemas } from "@/shared/api/client";
import { dayText, digits, money } from "@/shared/format";
import { useView } from "@/shared/view";

type Line = Schemas["ReviewLine"];
type Answer = Schemas["ReviewAnswer"];

interface Props {
  line: Line;
  answerOf: Answer;
  accounts: string;
}

/** What is behind a line of the review: its categories, flows and payees, and the entries, to be corrected on the spot. */
export function LineEntries({ line, answerOf, accounts }: Props) {
  const kind = line.kind === "income" ? "income" : "expense";
  const categories = (line.kind === "allowance" ? line.categories : line.id ? [line.id] : []).join(",");
  const query = { from: answerOf.from, to: answerOf.to, kind, categories, ...(accounts && { accounts }) } as const;
  const { data, error } = useQuery({
    queryKey: ["review-line", query],
    // Of an allowance in whose categories nothing was recorded there is nothing to ask.
    enabled: line.kind !== "allowance" || line.categories.length > 0,
    queryFn: () => answer<Schemas["BehindLine"]>(api.GET("/api/review/line", { params: { query } })),
  });
  if (error) return <p role="alert">{error.message}</p>;
  const isEmpty = line.categories.length === 0 && line.kind === "allowance";
  if (isEmpty || (data?.entries.length === 0 && data.flows.length === 0))
    return <p className="py-1 text-pencil">Nothing was recorded here in these days.</p>;
  if (!data) return null;
  return (
    <div className="grid gap-x-10 gap-y-3 py-2 md:grid-cols-2">
      <Entries parts={data.entries} line={line} answerOf={answerOf} />
      <div className="flex flex-col gap-3">
        {line.categories.length > 1 && <Categories line={line} answerOf={answerOf} />}
        <Flows parts={data.flows} line={line} answerOf={answerOf} />
        {data.payees.length > 1 && <Payees parts={data.payees} answerOf={answerOf} />}
      </div>
    </div>
  );
}

function Part({ title, children }: { title: string; children: ReactNode }) {
  return (
    <div>
      <h4 className="font-sans text-sm font-normal text-pencil">{title}</h4>
      <ul aria-label={title}>{children}</ul>
    </div>
  );
}

const ROW = "flex min-h-8 items-baseline justify-between gap-3 border-b border-rule";

function Entries({ parts, line, answerOf }: { parts: Schemas["EntryPart"][]; line: Line; answerOf: Answer }) {
  const { openSlip } = useView();
  if (parts.length === 0) return <p className="text-pencil">Nothing was recorded here in these days.</p>;
  return (
    <Part title="Entries">
      {parts.map((entry) => (
        <li key={`${entry.id} ${entry.category} ${entry.amount}`} className={ROW}>
          <span className="w-28 shrink-0 text-pencil">{dayText(entry.date, answerOf.today)}</span>
          <button
            type="button"
            className="min-w-0 grow text-left hover:underline"
            onClick={() => openSlip("entry", entry.id)}
          >
            {entry.payee}
            {line.categories.length > 1 && <span className="ml-2 text-sm text-pencil">{entry.category}</span>}
          </button>
          <span className="whitespace-nowrap">{money(entry.amount, answerOf.currency)}</span>
        </li>
      ))}
    </Part>
  );
}

function Categories({ line, answerOf }: { line: Line; answerOf: Answer }) {
  return (
    <Part title="Categories">
      {answerOf.rows
        .filter((row) => row.category && line.categories.includes(row.category))
        .map((row) => (
          <li key={row.category} className={ROW}>
            {row.name}
            <span className="whitespace-nowrap">{money(row.actual, answerOf.currency)}</span>
          </li>
        ))}
    </Part>
  );
}

/** By flow: what was recorded, and beside it what was expected where that is another sum. */
function Flows({ parts, line, answerOf }: { parts: Schemas["FlowPart"][]; line: Line; answerOf: Answer }) {
  const { openSlip } = useView();
  if (parts.every((part) => part.flow === null)) return null;
  return (
    <Part title="Flows">
      {parts.map((part) => (
        <li key={part.flow} className={ROW}>
          {part.flow === null ? (
            <span>Recorded without a flow</span>
          ) : (
            <button type="button" className="text-left hover:underline" onClick={() => openSlip("flow", part.flow)}>
              {part.name}
            </button>
          )}
          <span className="text-right whitespace-nowrap">
            {part.actual !== part.expected && part.flow !== null && line.kind !== "allowance" && (
              <span className="mr-3 text-sm text-pencil italic">
                {digits(part.expected, answerOf.currency)} expected
              </span>
            )}
            {money(part.actual, answerOf.currency)}
          </span>
        </li>
      ))}
    </Part>
  );
}

function Payees({ parts, answerOf }: { parts: Schemas["PayeePart"][]; answerOf: Answer }) {
  return (
    <Part title="Payees">
      {parts.map((part) => (
        <li key={part.payee} className={ROW}>
          <span>
            {part.payee || "No payee"}
            <span className="ml-2 text-sm text-pencil">{part.entries === 1 ? "once" : `${part.entries} entries`}</span>
          </span>
          <span className="whitespace-nowrap">{money(part.amount, answerOf.currency)}</span>
        </li>
      ))}
    </Part>
  );
}
