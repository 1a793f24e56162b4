import { useVirtualizer } from "@tanstack/react-virtual";
import { ChevronDown, ChevronRight } from "lucide-react";
import { type CSSProperties, useMemo, useRef, useState } from "react";
import type { Schemas } from "@/shared/api/client";
import { dayText, digits, shortDay } from "@/shared/format";
import { Button } from "@/shared/kit/Button";
import { type Column, feesText, isExplained, scheduleColumns } from "./scheduleColumns";
import { type Source, Why } from "./Why";

type Row = Schemas["LoanRow"];
type Year = Schemas["ScheduleYear"];

export interface ScheduleProps {
  answer: Schemas["LoanScheduleAnswer"];
  source: Source;
  settled: string[];
  today: string;
  currency: string;
}

/** A year with its sums, a payment, or what stands around them all: the paying out, and the sums of everything. */
type Line =
  | { kind: "year"; year: Year; key: string }
  | { kind: "row"; row: Row; key: string }
  | { kind: "paid out" | "sums"; key: string };

function linesOf({ rows, by_year, paid_out }: Schemas["LoanScheduleAnswer"], open: number[]): Line[] {
  const lines: Line[] = paid_out ? [{ kind: "paid out", key: "paid out" }] : [];
  for (const year of by_year) {
    lines.push({ kind: "year", year, key: `y${year.year}` });
    if (open.includes(year.year))
      for (const row of rows)
        if (row.due.startsWith(`${year.year}-`)) lines.push({ kind: "row", row, key: `r${row.number}` });
  }
  return [...lines, { kind: "sums", key: "sums" }];
}

const GRID =
  "grid grid-cols-[1.8rem_3.4rem_repeat(3,minmax(0,1fr))] gap-x-2 text-sm @3xl:text-base @3xl:grid-cols-[3.5rem_8.5rem_repeat(var(--columns),minmax(0,1fr))] @3xl:gap-x-3";

/** The schedule, years folded with their sums; ink for what is settled, pencil for what is to come. */
export function Schedule({ answer, source, settled, today, currency }: ScheduleProps) {
  const { rows, by_year: years } = answer;
  const columns = useMemo(() => scheduleColumns(answer), [answer]);
  const thisYear = Number(today.slice(0, 4));
  const [open, setOpen] = useState<number[]>([thisYear, thisYear + 1, years[0]?.year ?? thisYear]);
  const list = useRef<HTMLDivElement>(null);
  const inked = useMemo(() => new Set(settled), [settled]);
  const next = rows.find((row) => row.due >= today && !inked.has(row.due))?.number;
  const lines = useMemo(() => linesOf(answer, open), [answer, open]);
  const virtual = useVirtualizer({
    count: lines.length,
    getScrollElement: () => document.getElementById("page"),
    estimateSize: () => 36,
    overscan: 20,
    scrollMargin: list.current?.offsetTop ?? 0,
    getItemKey: (place) => lines[place]?.key ?? place,
  });
  const toggle = (year: number) =>
    setOpen((before) => (before.includes(year) ? before.filter((other) => other !== year) : [...before, year]));
  const isAllOpen = years.every((year) => open.includes(year.year));
  return (
    <section aria-label="Schedule" className="mt-8" style={{ "--columns": columns.length } as CSSProperties}>
      <div className="flex items-baseline gap-4">
        <h2 className="text-lg">Schedule</h2>
        <Button
          look="link"
          className="!min-h-8"
          onClick={() => setOpen(isAllOpen ? [] : years.map((oneYear) => oneYear.year))}
        >
          {isAllOpen ? "Fold all years" : "Open all years"}
        </Button>
      </div>
      <div className={`${GRID} sticky top-0 z-10 border-b border-rule-strong bg-paper py-1 text-sm text-pencil`}>
        <span>No.</span>
        <span>Due</span>
        {columns.map(({ name, label, wide }) => (
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
              {line?.kind === "paid out" && <PaidOutLine answer={answer} today={today} currency={currency} />}
              {line?.kind === "sums" && <SumsLine answer={answer} columns={columns} currency={currency} />}
              {line?.kind === "year" && (
                <YearLine
                  year={line.year}
                  place={years.indexOf(line.year)}
                  columns={columns}
                  isOpen={open.includes(line.year.year)}
                  currency={currency}
                  onToggle={toggle}
                />
              )}
              {line?.kind === "row" && (
                <RowLine
                  row={line.row}
                  columns={columns}
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

interface AroundProps {
  answer: Schemas["LoanScheduleAnswer"];
  currency: string;
}

/** Row 0: the day the money comes, what it costs in fees, and what is owed from then on. */
function PaidOutLine({ answer: { paid_out: paid }, today, currency }: AroundProps & { today: string }) {
  if (!paid) return null;
  return (
    <div data-row="0" className="pencilled flex h-9 items-center gap-x-2 border-rule border-b text-sm @3xl:text-base">
      <span className="w-[1.8rem] @3xl:w-14">0</span>
      <span className="whitespace-nowrap @3xl:ml-1">{dayText(paid.on, today)}</span>
      <span className="truncate">paid out{paid.fees > 0 && <>, {feesText(paid, currency)}</>}</span>
      <span className="ml-auto">{digits(paid.owed, currency)}</span>
    </div>
  );
}

function SumsLine({ answer, columns, currency }: AroundProps & { columns: Column[] }) {
  return (
    <div className={`${GRID} h-9 items-center border-rule-strong border-t-2 font-semibold`}>
      <span className="col-span-2 whitespace-nowrap">In all, {answer.rows.length}</span>
      {columns.map(({ name, wide, inAll }) => (
        <span key={name} className={`text-right ${wide ? "hidden @3xl:block" : ""}`}>
          {inAll === undefined ? "" : digits(inAll, currency)}
        </span>
      ))}
    </div>
  );
}

interface YearLineProps {
  year: Year;
  place: number;
  columns: Column[];
  isOpen: boolean;
  currency: string;
  onToggle: (year: number) => void;
}

function YearLine({ year, place, columns, isOpen, currency, onToggle }: YearLineProps) {
  const Fold = isOpen ? ChevronDown : ChevronRight;
  return (
    <button
      type="button"
      aria-expanded={isOpen}
      onClick={() => onToggle(year.year)}
      className={`${GRID} h-9 w-full items-center border-b border-rule bg-hover text-left font-semibold`}
    >
      <span className="col-span-2 flex items-center gap-1 whitespace-nowrap">
        <Fold size={16} aria-hidden /> {year.year}
        <span className="ml-1 hidden font-normal text-sm text-pencil @3xl:inline">
          {digits(year.interest_accrued, currency)} run up
        </span>
      </span>
      {columns.map(({ name, wide, ofYear }) => (
        <span key={name} className={`text-right ${wide ? "hidden @3xl:block" : ""}`}>
          {ofYear ? digits(ofYear(year, place), currency) : ""}
        </span>
      ))}
    </button>
  );
}

interface RowLineProps {
  row: Row;
  columns: Column[];
  source: Source;
  isInked: boolean;
  isNext: boolean;
  today: string;
  currency: string;
}

function RowLine({ row, columns, source, isInked, isNext, today, currency }: RowLineProps) {
  return (
    <div
      data-row={row.number}
      className={`${GRID} h-9 items-center border-b ${isNext ? "border-t-2 border-t-copper border-b-rule" : "border-rule"} ${isInked ? "inked" : "pencilled"}`}
    >
      <span>{row.number}</span>
      <span className="whitespace-nowrap">
        <span className="@3xl:hidden">{shortDay(row.due)}</span>
        <span className="hidden @3xl:inline">{dayText(row.due, today)}</span>
        {isNext && <span className="sr-only"> (next)</span>}
      </span>
      {columns.map(({ name, label, wide, ofRow }) => (
        <span key={name} className={`text-right ${wide ? "hidden @3xl:block" : ""}`}>
          {isExplained(name) ? (
            <Why
              source={source}
              number={row.number}
              figure={name}
              label={label}
              text={digits(ofRow(row, row.number), currency)}
            />
          ) : (
            digits(ofRow(row, row.number), currency)
          )}
        </span>
      ))}
    </div>
  );
}
