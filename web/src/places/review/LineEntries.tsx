import type { ReactNode } from "react";
import { type Schemas, server } from "@/shared/api/client";
import { dayText, digits, money } from "@/shared/format";
import { useView } from "@/shared/view";

type Behind = Schemas["BehindLine"];

/** A line of a review: which categories, of which days and accounts. */
export interface LineOf {
  kind: Schemas["ReviewLine"]["kind"];
  categories: string[];
  days: { from: string; to: string };
  accounts: string;
  currency: string;
  today: string;
}

/** What is behind a line: its categories, flows and payees, and the entries, to be corrected on the spot. */
export function LineEntries({ of }: { of: LineOf }) {
  const { kind, categories, accounts } = of;
  const query = {
    ...of.days,
    kind: kind === "income" ? "income" : "expense",
    categories: categories.join(","),
    ...(accounts && { accounts }),
  } as const;
  // Of an allowance in whose categories nothing was recorded there is nothing to ask.
  const isEmpty = kind === "allowance" && categories.length === 0;
  const { data, error } = server.useQuery("get", "/api/review/line", { params: { query } }, { enabled: !isEmpty });
  if (error) return <p role="alert">{error.message}</p>;
  if (isEmpty || (data?.entries.length === 0 && data.flows.length === 0))
    return <p className="py-1 text-pencil">Nothing was recorded here in these days.</p>;
  if (!data) return null;
  return (
    <div className="grid gap-x-10 gap-y-3 py-2 md:grid-cols-2">
      <Entries data={data} of={of} />
      <div className="flex flex-col gap-3">
        {data.categories.length > 1 && (
          <Part title="Categories">
            {data.categories.map((part) => (
              <Row key={part.category} sum={money(part.amount, of.currency)}>
                {part.name}
              </Row>
            ))}
          </Part>
        )}
        <Flows data={data} of={of} />
        {data.payees.length > 1 && <Payees data={data} of={of} />}
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

function Row({ sum, children }: { sum: ReactNode; children: ReactNode }) {
  return (
    <li className="flex min-h-8 items-baseline justify-between gap-3 border-b border-rule">
      <span className="flex min-w-0 gap-2">{children}</span>
      <span className="text-right whitespace-nowrap">{sum}</span>
    </li>
  );
}

function Opens({ children, onClick }: { children: ReactNode; onClick: () => void }) {
  return (
    <button type="button" className="min-w-0 text-left hover:underline" onClick={onClick}>
      {children}
    </button>
  );
}

function Entries({ data, of }: { data: Behind; of: LineOf }) {
  const { openSlip } = useView();
  if (data.entries.length === 0) return <p className="text-pencil">Nothing was recorded here in these days.</p>;
  return (
    <Part title="Entries">
      {data.entries.map((entry) => (
        <Row key={`${entry.id} ${entry.category} ${entry.amount}`} sum={money(entry.amount, of.currency)}>
          <span className="w-28 shrink-0 text-pencil">{dayText(entry.date, of.today)}</span>
          <Opens onClick={() => openSlip("entry", entry.id)}>
            {entry.payee}
            {data.categories.length > 1 && <span className="ml-2 text-sm text-pencil">{entry.category}</span>}
          </Opens>
        </Row>
      ))}
    </Part>
  );
}

/** By flow: what was recorded, and beside it what was expected where that is another sum. */
function Flows({ data, of }: { data: Behind; of: LineOf }) {
  const { openSlip } = useView();
  if (data.flows.every((part) => part.flow === null)) return null;
  return (
    <Part title="Flows">
      {data.flows.map((part) => (
        <Row
          key={part.flow}
          sum={
            <>
              {part.actual !== part.expected && part.flow !== null && of.kind !== "allowance" && (
                <span className="mr-3 text-sm text-pencil italic">{digits(part.expected, of.currency)} expected</span>
              )}
              {money(part.actual, of.currency)}
            </>
          }
        >
          {part.flow === null ? (
            "Recorded without a flow"
          ) : (
            <Opens onClick={() => openSlip("flow", part.flow)}>{part.name}</Opens>
          )}
        </Row>
      ))}
    </Part>
  );
}

function Payees({ data, of }: { data: Behind; of: LineOf }) {
  return (
    <Part title="Payees">
      {data.payees.map((part) => (
        <Row key={part.payee} sum={money(part.amount, of.currency)}>
          {part.payee || "No payee"}
          <span className="text-sm text-pencil">{part.entries === 1 ? "once" : `${part.entries} entries`}</span>
        </Row>
      ))}
    </Part>
  );
}
