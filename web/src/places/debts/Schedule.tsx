import { useVirtualizer } from "@tanstack/react-virtual";
import { ChevronDown, ChevronRight } from "lucide-react";
import { useMemo, useRef, useState } from "react";
import type { Schemas } from "@/shared/api/client";
import { dayText, digits } from "@/shared/format";
import { Button } from "@/shared/kit/Button";
import { type Figure, type Source, Why } from "./Why";

type Row = Schemas["LoanRow"];
type Year = Schemas["LoanYear"];

export interface ScheduleProps {
  rows: Row[];
  years: Year[];
  source: Source;
  settled: string[];
  today: string;
  currency: string;
}

interface Line {
  year: Year | null;
  row: Row | null;
  key: string;
}

const GRID =
  "grid grid-cols-[3.5rem_6.5rem_repeat(3,minmax(0,1fr))] gap-x-3 @3xl:grid-cols-[3.5rem_8.5rem_repeat(6,minmax(0,1fr))]";
const COLUMNS: { name: Figure; label: string; wide: boolean }[] = [
  { name: "payment", label: "Payment", wide: true },
  { name: "interest", label: "Interest", wide: false },
  { name: "principal", label: "Principal", wide: false },
  { name: "extra", label: "Extra", wide: true },
  { name: "escrow", label: "Escrow", wide: true },
  { name: "balance", label: "Balance", wide: false },
];

/** The schedule, years folded with their sums; ink for what is settled, pencil for what is to come. */
export function Schedule({ rows, years, source, settled, today, currency }: ScheduleProps) {
  const thisYear = Number(today.slice(0, 4));
  const [open, setOpen] = useState<number[]>([thisYear, thisYear + 1, years[0]?.year ?? thisYear]);
  const list = useRef<HTMLDivElement>(null);
  const inked = useMemo(() => new Set(settled), [settled]);
  const next = rows.find((row) => row.due >= today && !inked.has(row.due))?.number;
  const lines = useMemo(() => {
    const found: Line[] = [];
    for (const year of years) {
      found.push({ year, row: null, key: `y${year.year}` });
      if (open.includes(year.year))
        for (const row of rows)
          if (row.due.startsWith(`${year.year}-`)) found.push({ year: null, row, key: `r${row.number}` });
    }
    return found;
  }, [rows, years, open]);
  const virtual = useVirtualizer({
    count: lines.length,
    getScrollElement: () => document.getElementById("page"),
    estimateSize: () => 36,
    overscan: 20,
    scrollMargin: list.current?.offsetTop ?? 0,
    getItemKey: (place) => lines[place]?.key ?? place,
  });
  const toggle = (year: number) =>
    setOpen((before) => (before.includes(year) ? before.filter((each) => each !== year) : [...before, year]));
  const isAllOpen = years.every((year) => open.includes(year.year));
  return (
    <section aria-label="Schedule" className="mt-8">
      <div className="flex items-baseline gap-4">
        <h2 className="text-lg">Schedule</h2>
        <Button
          look="link"
          className="!min-h-8"
          onClick={() => setOpen(isAllOpen ? [] : years.map((each) => each.year))}
        >
          {isAllOpen ? "Fold all years" : "Open all years"}
        </Button>
      </div>
      <div className={`${GRID} sticky top-0 z-10 border-b border-rule-strong bg-paper py-1 text-sm text-pencil`}>
        <span>No.</span>
        <span>Due</span>
        {COLUMNS.map(({ name, label, wide }) => (
          <span key={name} className={`text-right ${wide ? "hidden @3xl:block" : ""}`}>
            {label}
          </span>
        ))}
      </div>
      <div ref={list} className="relative" style={{ height: virtual.getTotalSize() }}>
        {virtual.getVirtualItems().map((item) => {
          const line = lines[item.index];
          return (
            <div
              key={item.key}
              className="absolute inset-x-0"
              style={{ transform: `translateY(${item.start - virtual.options.scrollMargin}px)` }}
            >
              {line?.year && (
                <YearLine
                  year={line.year}
                  isOpen={open.includes(line.year.year)}
                  currency={currency}
                  onToggle={toggle}
                />
              )}
              {line?.row && (
                <RowLine
                  row={line.row}
                  source={source}
                  isInked={inked.has(line.row.due)}
                  isNext={line.row.number === next}
                  today={today}
                  currency={currency}
                />
              )}
            </div>
          );
        })}
      </div>
    </section>
  );
}

interface YearLineProps {
  year: Year;
  isOpen: boolean;
  currency: string;
  onToggle: (year: number) => void;
}

function YearLine({ year, isOpen, currency, onToggle }: YearLineProps) {
  const sums = [null, year.interest_paid, year.principal, year.extra, year.escrow, null];
  const Fold = isOpen ? ChevronDown : ChevronRight;
  return (
    <button
      type="button"
      aria-expanded={isOpen}
      onClick={() => onToggle(year.year)}
      className={`${GRID} h-9 w-full items-center border-b border-rule bg-hover text-left font-semibold`}
    >
      <span className="col-span-2 flex items-center gap-1">
        <Fold size={16} aria-hidden /> {year.year}
        <span className="ml-2 hidden font-normal text-sm text-pencil @3xl:inline">
          {digits(year.interest_accrued, currency)} run up
        </span>
      </span>
      {sums.map((sum, place) => (
        <span
          // biome-ignore lint/suspicious/noArrayIndexKey: the columns stay in their order
          key={place}
          className={`text-right ${COLUMNS[place]?.wide ? "hidden @3xl:block" : ""}`}
        >
          {sum === null ? "" : digits(sum, currency)}
        </span>
      ))}
    </button>
  );
}

interface RowLineProps {
  row: Row;
  source: Source;
  isInked: boolean;
  isNext: boolean;
  today: string;
  currency: string;
}

function RowLine({ row, source, isInked, isNext, today, currency }: RowLineProps) {
  return (
    <div
      data-row={row.number}
      className={`${GRID} h-9 items-center border-b ${isNext ? "border-t-2 border-t-copper border-b-rule" : "border-rule"} ${isInked ? "inked" : "pencilled"}`}
    >
      <span>{row.number}</span>
      <span className="whitespace-nowrap">
        {dayText(row.due, today)}
        {isNext && <span className="sr-only"> (next)</span>}
      </span>
      {COLUMNS.map(({ name, label, wide }) => (
        <span key={name} className={`text-right ${wide ? "hidden @3xl:block" : ""}`}>
          <Why
            source={source}
            number={row.number}
            figure={name}
            label={label}
            text={digits(row[name as "balance"], currency)}
          />
        </span>
      ))}
    </div>
  );
}
