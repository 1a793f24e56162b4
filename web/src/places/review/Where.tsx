import { ChevronDown, ChevronRight } from "lucide-react";
import { useState } from "react";
import type { Schemas } from "@/shared/api/client";
import { digits, money } from "@/shared/format";
import { LineEntries } from "./LineEntries";
import { PairBar } from "./PairBar";

type Answer = Schemas["ReviewAnswer"];
type Line = Schemas["ReviewLine"];

const GRID =
  "grid grid-cols-[minmax(0,1fr)_auto] gap-x-4 md:grid-cols-[15rem_minmax(0,1fr)_8rem_8rem_11rem] md:items-center";

/** Income or spending by group: what was expected in pencil, what happened in ink, the largest first. */
export function Where({ data, isIncome, accounts }: { data: Answer; isIncome: boolean; accounts: string }) {
  const lines = data.lines.filter((line) => (line.kind === "income") === isIncome);
  const groups = data.groups.filter((group) => (group.kind === "income") === isIncome);
  const most = Math.max(1, ...lines.map((line) => Math.max(line.expected, line.actual)));
  const sums = isIncome ? data.income : data.spending;
  const title = isIncome ? "What came in" : "Where it went";
  if (lines.length === 0) return null;
  return (
    <section aria-label={title} className="mt-5">
      <h2 className="mb-1 text-lg">{title}</h2>
      <div className={`${GRID} border-b border-rule-strong pb-1 text-sm text-pencil`}>
        <span>Category</span>
        <span className="hidden md:block" />
        <span className="text-right">Happened</span>
        <span className="hidden text-right md:block">Expected</span>
        <span className="hidden text-right md:block">Difference</span>
      </div>
      {groups.map((group) => (
        <div key={group.name}>
          {groups.length > 1 && (
            <h3 className={`${GRID} mt-2 text-base`}>
              <span>{group.name || "In no group"}</span>
              <span className="hidden md:block" />
              <span className="text-right font-sans font-semibold">{digits(group.actual, data.currency)}</span>
            </h3>
          )}
          {lines
            .filter((line) => line.group === group.name)
            .map((line) => (
              <LineRow key={`${line.kind} ${line.id}`} line={line} data={data} most={most} accounts={accounts} />
            ))}
        </div>
      ))}
      <div className={`${GRID} border-t border-rule-strong py-1 font-semibold`}>
        <span>Together</span>
        <span className="hidden md:block" />
        <span className="text-right">{money(sums.actual, data.currency)}</span>
        <span className="hidden text-right text-pencil md:block">{money(sums.expected, data.currency)}</span>
        <span className="hidden md:block" />
      </div>
    </section>
  );
}

function LineRow({ line, data, most, accounts }: { line: Line; data: Answer; most: number; accounts: string }) {
  const [isOpen, setIsOpen] = useState(false);
  const Mark = isOpen ? ChevronDown : ChevronRight;
  return (
    <div className="border-b border-rule py-1">
      <div className={GRID}>
        <button
          type="button"
          aria-expanded={isOpen}
          className="flex min-h-8 items-center gap-1 text-left hover:underline"
          onClick={() => setIsOpen(!isOpen)}
        >
          <Mark size={16} aria-hidden className="shrink-0 text-pencil" />
          <span>
            {line.name}
            {line.kind === "allowance" && <span className="ml-1.5 text-sm text-pencil">allowance</span>}
          </span>
        </button>
        <span className="order-last col-span-2 md:order-none md:col-span-1">
          <PairBar expected={line.expected} actual={line.actual} most={most} />
        </span>
        <span className="text-right whitespace-nowrap">{digits(line.actual, data.currency)}</span>
        <span className="hidden text-right whitespace-nowrap text-pencil italic md:block">
          {digits(line.expected, data.currency)}
        </span>
        <span className="col-span-2 text-right text-sm md:col-span-1 md:text-base">{difference(line, data)}</span>
      </div>
      {isOpen && (
        <LineEntries
          of={{
            kind: line.kind,
            categories: line.kind === "allowance" ? line.categories : line.id ? [line.id] : [],
            days: { from: data.from, to: data.to },
            accounts,
            currency: data.currency,
            today: data.today,
          }}
        />
      )}
    </div>
  );
}

/** How much over or under, in words. */
function difference(line: Line, data: Answer) {
  const off = line.kind === "income" ? line.gained : -line.gained;
  if (off === 0) return <span className="text-pencil">as expected</span>;
  const word = off > 0 ? "more" : data.to >= data.today ? "not yet" : "less";
  return `${money(Math.abs(off), data.currency)} ${word}`;
}
