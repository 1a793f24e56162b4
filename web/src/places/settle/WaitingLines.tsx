import { type KeyboardEvent, useState } from "react";
import { SortedAs } from "@/places/accounts/files/SortedAs";
import { WhatItIs } from "@/places/accounts/files/WhatItIs";
import { api, type Schemas } from "@/shared/api/client";
import { useAccounts, useAct } from "@/shared/api/hooks";
import { dayText, money } from "@/shared/format";
import { Button } from "@/shared/kit/Button";

type Line = Schemas["WaitingLine"];
type Decision = Schemas["LineDecision"];

/** Lines of a bank that nobody has decided yet, worked off by key or button like the rest. */
export function WaitingLines({ lines, today }: { lines: Line[]; today: string }) {
  const decide = useAct((lines: Decision[]) =>
    api.post("/api/bank-lines/waiting", { body: { lines, payee_rules: [] } }),
  );
  if (lines.length === 0) return null;
  return (
    <section aria-label="From the bank" className="mb-5">
      <h2 className="border-b border-rule-strong text-lg">From the bank: what is it?</h2>
      <ul>
        {lines.map((line) => (
          <Waiting key={line.key} line={line} today={today} onDecide={(decision) => decide.mutate([decision])} />
        ))}
      </ul>
      <p className="mt-1 hidden gap-x-4 text-sm text-pencil md:flex">
        <span>
          <kbd className="rounded-sm border border-rule-strong px-1.5 font-sans text-xs text-ink">Enter</kbd> it is that
        </span>
        <span>
          <kbd className="rounded-sm border border-rule-strong px-1.5 font-sans text-xs text-ink">L</kbd> leave out
        </span>
      </p>
    </section>
  );
}

interface Props {
  line: Line;
  today: string;
  onDecide: (decision: Decision) => void;
}

function Waiting({ line, today, onDecide }: Props) {
  const [what, setWhat] = useState("same");
  const [category, setCategory] = useState("");
  const accounts = useAccounts().data?.accounts ?? [];
  const on = accounts.find(({ account }) => account.id === line.on)?.account.name ?? "";
  const isNew = what === "new" || (what === "same" && line.is === "new");
  const sorted = category || line.category || "";
  const take = () => {
    if (what === "leave") return onDecide({ key: line.key, take: false });
    if (what.startsWith("move:"))
      return onDecide({ key: line.key, take: true, is: "transfer", account: what.slice(5) });
    if (isNew) return sorted && onDecide({ key: line.key, take: true, is: "new", category: sorted });
    return onDecide({ key: line.key, take: true });
  };
  const onKeyDown = (event: KeyboardEvent) => {
    if (event.target !== event.currentTarget || event.ctrlKey || event.metaKey || event.altKey) return;
    if (event.key === "Enter") take();
    else if (event.key.toLowerCase() === "l") onDecide({ key: line.key, take: false });
    else return;
    event.preventDefault();
  };
  return (
    <li className="border-b border-rule">
      {/* biome-ignore lint/a11y/useSemanticElements: a fieldset cannot be one row of a list */}
      <div
        role="group"
        // biome-ignore lint/a11y/noNoninteractiveTabindex: the row takes the settling keys
        tabIndex={0}
        data-due={line.key}
        aria-label={`${line.payee || "A line of the bank"}, ${money(line.amount, line.currency)}, ${dayText(line.date, today)}`}
        aria-keyshortcuts="Enter L"
        onKeyDown={onKeyDown}
        className="grid grid-cols-[5.2rem_minmax(0,1fr)_auto] items-center gap-x-3 gap-y-1 py-1.5 @3xl:grid-cols-[6.5rem_minmax(0,1fr)_7rem_minmax(0,28rem)]"
      >
        <span>{dayText(line.date, today)}</span>
        <span className="min-w-0 break-words">
          {line.payee || "no name"}
          <span className="block text-sm text-pencil">{[on, line.memo].filter(Boolean).join(" · ")}</span>
        </span>
        <span className={`text-right ${line.amount > 0 ? "text-teal" : ""}`}>
          {line.amount > 0 && "+"}
          {money(line.amount, line.currency)}
        </span>
        <span className="col-span-3 flex min-w-0 flex-wrap items-center gap-2 @3xl:col-span-1">
          <span className="min-w-40 flex-1">
            <WhatItIs
              line={{ ...line, offered: false }}
              account={line.on}
              currency={line.currency}
              value={what}
              onChange={setWhat}
            />
          </span>
          {isNew && (
            <span className="min-w-40 flex-1">
              <SortedAs line={line} currency={line.currency} value={sorted} onChange={setCategory} />
            </span>
          )}
          <Button className="!min-h-9 !border-ink !px-3 font-semibold" onClick={take}>
            {what === "leave" ? "Leave it" : "It is"}
          </Button>
        </span>
      </div>
    </li>
  );
}
