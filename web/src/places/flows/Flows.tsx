import { useState } from "react";
import { useAllowances } from "@/places/ahead/Allowances";
import type { Schemas } from "@/shared/api/client";
import { useAccounts, useFlows } from "@/shared/api/hooks";
import { money } from "@/shared/format";
import { Button } from "@/shared/kit/Button";
import { useView } from "@/shared/view";
import { AllowanceGroup } from "./allowances/AllowanceGroup";
import { SetAside, useSetAside } from "./aside/SetAside";
import { Candidates } from "./Candidates";
import { FlowTable } from "./FlowTable";
import { Subscriptions, useSubscriptions } from "./Subscriptions";

type Row = Schemas["FlowRow"];

const GROUPS = [
  { kind: "income", title: "Income", add: "Add income", empty: "No income yet: add the next payday." },
  { kind: "bill", title: "Bills", add: "Add a bill", empty: "No bills yet." },
  {
    kind: "loan_payment",
    title: "Loan payments",
    add: "Add a loan",
    empty: "No loans. Their payments follow from their terms.",
  },
  { kind: "transfer", title: "Transfers", add: "Add a transfer", empty: "No transfers between your accounts." },
] as const;

/** Everything that repeats or is planned, by kind. */
export function Flows() {
  const data = useFlows().data;
  // Names may take a line more than the ids of accounts; and what comes after the flows comes at once, in its order.
  const isNaming = useAccounts().isPending;
  const isRestAwaited = [useSetAside(), useAllowances(), useSubscriptions()].some(({ isPending }) => isPending);
  const [search, setSearch] = useState("");
  if (!data || isNaming) return null;
  const wanted = search.trim().toLowerCase();
  const rows = data.flows.filter((row) => !wanted || nameOf(row).includes(wanted));
  return (
    <div className="mx-auto max-w-6xl px-4 py-4 md:px-6">
      <div className="mb-2 flex items-center gap-4">
        <h1 className="text-xl">Flows</h1>
        {data.flows.length > 8 && (
          <input
            type="search"
            aria-label="Show only matching flows"
            placeholder="Show only…"
            value={search}
            onChange={(event) => setSearch(event.target.value)}
            className="field ml-auto max-w-56"
          />
        )}
      </div>
      {GROUPS.map((group) => (
        <Group
          key={group.kind}
          group={group}
          rows={rows.filter(({ flow }) => flow.kind === group.kind)}
          totals={data.totals.filter((total) => total.kind === group.kind)}
          today={data.today}
          isFiltered={wanted !== ""}
        />
      ))}
      {!wanted && !isRestAwaited && (
        <>
          <SetAside />
          <AllowanceGroup />
          <Subscriptions />
          <Candidates />
        </>
      )}
    </div>
  );
}

const nameOf = ({ flow }: Row) => `${flow.name} ${flow.payee ?? ""}`.toLowerCase();

interface GroupProps {
  group: (typeof GROUPS)[number];
  rows: Row[];
  totals: Schemas["KindTotal"][];
  today: string;
  isFiltered: boolean;
}

function Group({ group, rows, totals, today, isFiltered }: GroupProps) {
  const { openSlip } = useView();
  if (isFiltered && rows.length === 0) return null;
  return (
    <section aria-label={group.title} className="mb-7">
      <div className="flex flex-wrap items-baseline gap-x-4 border-b border-rule-strong">
        <h2 className="text-lg">{group.title}</h2>
        <Button
          look="link"
          onClick={() => (group.kind === "loan_payment" ? openSlip("loan", null) : openSlip("flow", null, group.kind))}
        >
          {group.add}
        </Button>
        <p className="ml-auto text-right text-sm text-pencil">
          {totals.map((total) => (
            <span key={total.currency} className="ml-3">
              <strong className="text-base text-ink">{money(total.yearly, total.currency)}</strong> in the coming year
            </span>
          ))}
        </p>
      </div>
      {rows.length === 0 ? (
        <p className="py-2 text-pencil">{group.empty}</p>
      ) : (
        <FlowTable rows={rows} today={today} label={group.title} />
      )}
    </section>
  );
}
