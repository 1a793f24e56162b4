import { useVirtualizer } from "@tanstack/react-virtual";
import { type KeyboardEvent, type RefObject, useLayoutEffect, useMemo, useRef, useState } from "react";
import { currencyOf } from "@/places/ahead/currencyOf";
import type { Schemas } from "@/shared/api/client";
import { useAccounts } from "@/shared/api/hooks";
import { AsCsv } from "@/shared/csv/AsCsv";
import { Term } from "@/shared/kit/Term";
import { useWaters } from "@/shared/look/waters";
import { DayFilters, type Filters } from "./DayFilters";
import { type DayEvent, GRID } from "./DayLine";
import { MoveAsk } from "./MoveAsk";
import { type Row, RowLine } from "./RowLine";

type AheadAnswer = Schemas["AheadAnswer"];

/** The coming days as lines: what moves, in and out, the balance after it, and the headroom left. */
export function RunOfDays({ ahead, filters }: { ahead: AheadAnswer; filters: Filters }) {
  const [open, setOpen] = useState<string | null>(null);
  const [unfolded, setUnfolded] = useState<ReadonlySet<string>>(new Set());
  const [pointedAt, setPointedAt] = useState<string | null>(null);
  const [asked, setAsked] = useState<{ event: DayEvent; day: string } | null>(null);
  const rows = useMemo(() => rowsOf(ahead, unfolded), [ahead, unfolded]);
  const most = useMemo(() => Math.max(1, ...ahead.events.map((event) => event.headroom)), [ahead.events]);
  const list = useRef<HTMLOListElement>(null);
  const scrollMargin = useAbove(list);
  // Only the lines in sight are drawn.
  const virtual = useVirtualizer({
    count: rows.length,
    getScrollElement: () => document.getElementById("page"),
    estimateSize: () => 42,
    overscan: 12,
    scrollMargin,
    getItemKey: (place) => rows[place]?.key ?? place,
  });
  const lows = useLows();
  const onNextLow = () => {
    const page = document.getElementById("page");
    const top = (page?.scrollTop ?? 0) - scrollMargin + 60;
    const from = pointedAt ?? rows[virtual.getVirtualItemForOffset(Math.max(0, top))?.index ?? 0]?.date ?? "";
    const low = lows.find((day) => day > from) ?? lows[0];
    const place = rows.findLastIndex((row) => row.date <= (low ?? ""));
    setPointedAt(low ?? null);
    if (low && place >= 0) virtual.scrollToIndex(place, { align: "center" });
  };
  const toggleHeld = (key: string) => {
    const next = new Set(unfolded);
    if (!next.delete(key)) next.add(key);
    setUnfolded(next);
  };
  return (
    <section aria-label="Run of days">
      <DayFilters filters={filters} onNextLow={lows.length > 0 && rows.length > 0 ? onNextLow : null}>
        {rows.length > 0 && <DaysAsCsv ahead={ahead} />}
      </DayFilters>
      {rows.length === 0 && <p className="text-pencil">Nothing of this is planned in these days.</p>}
      {rows.length > 0 && <Columns />}
      <ol ref={list} onKeyDown={walkLines} className="relative" style={{ height: virtual.getTotalSize() }}>
        {virtual.getVirtualItems().map((item) => {
          const row = rows[item.index];
          if (!row) return null;
          const isNewDay = rows[item.index - 1]?.date !== row.date;
          return (
            <li
              key={row.key}
              data-index={item.index}
              ref={virtual.measureElement}
              className="absolute inset-x-0"
              style={{ transform: `translateY(${item.start - scrollMargin}px)` }}
            >
              <RowLine
                {...{ row, ahead, isNewDay, most }}
                isOpen={open === row.key}
                isUnfolded={unfolded.has(row.key)}
                isPointedAt={pointedAt === row.date}
                onToggle={() => setOpen(open === row.key ? null : row.key)}
                onUnfold={() => toggleHeld(row.key)}
                onDrop={(event, day) => setAsked({ event, day })}
              />
            </li>
          );
        })}
      </ol>
      <MoveAsk asked={asked} today={ahead.today} onDone={() => setAsked(null)} />
    </section>
  );
}

function Columns() {
  return (
    <div className={`${GRID} sticky top-0 z-10 border-b border-rule-strong bg-paper py-1 text-sm text-pencil`}>
      <span>Day</span>
      <span>What</span>
      <span className="hidden text-right @2xl:block">In</span>
      <span className="hidden text-right @2xl:block">Out</span>
      <span className="text-right">Balance</span>
      <span className="hidden @2xl:block">
        <Term of="Headroom">Headroom</Term>
      </span>
    </div>
  );
}

/** How far down the page a list begins: what stands above it may grow and shrink. */
function useAbove(list: RefObject<HTMLElement | null>): number {
  const [above, setAbove] = useState(0);
  useLayoutEffect(() => {
    const page = document.getElementById("page");
    if (!list.current || !page) return;
    setAbove(Math.round(list.current.getBoundingClientRect().top - page.getBoundingClientRect().top + page.scrollTop));
  });
  return above;
}

/** The days of the low points ahead, of what is drawn. */
function useLows(): string[] {
  const { plain, drafted } = useWaters();
  const line = drafted?.copper ?? plain?.line;
  return line?.lows.map((low) => low.date) ?? [];
}

/** The arrows go from line to line. */
function walkLines(event: KeyboardEvent<HTMLOListElement>) {
  if (event.altKey || (event.key !== "ArrowDown" && event.key !== "ArrowUp")) return;
  const lines = [...event.currentTarget.querySelectorAll<HTMLElement>("[data-line]")].sort(
    (a, b) => indexOf(a) - indexOf(b),
  );
  const at = lines.indexOf(document.activeElement as HTMLElement);
  const next = lines[at + (event.key === "ArrowDown" ? 1 : -1)];
  if (at < 0 || !next) return;
  event.preventDefault();
  next.focus();
}

const indexOf = (line: HTMLElement) => Number(line.closest("li")?.getAttribute("data-index") ?? 0);

const heldKey = (account: string, name: string, nominal: string | null) => `held ${account}/${name}/${nominal}`;

/** Lines in order; what an allowance holds back over several days is one, until it is unfolded. */
function rowsOf(ahead: AheadAnswer, unfolded: ReadonlySet<string>): Row[] {
  const periods = new Map(
    ahead.held
      .filter((stretch) => stretch.days > 1)
      .map((stretch) => [heldKey(stretch.account, stretch.name, stretch.nominal), stretch]),
  );
  const rows: Row[] = [];
  const seen = new Set<string>();
  ahead.events.forEach((event, place) => {
    const key = event.kind === "allowance" ? heldKey(event.account, event.name, event.nominal) : "";
    const stretch = periods.get(key);
    if (stretch && !seen.has(key)) {
      seen.add(key);
      rows.push({ key, date: event.date, stretch });
    }
    if (!stretch || unfolded.has(key)) rows.push({ key: keyOf(event, place), date: event.date, event });
  });
  for (const uncounted of ahead.uncounted) {
    const { date, flow, nominal } = uncounted;
    const after = rows.findIndex((row) => row.date > date);
    const row = { key: `uncounted ${flow}/${nominal}`, date, uncounted };
    rows.splice(after < 0 ? rows.length : after, 0, row);
  }
  return rows;
}

const keyOf = (event: DayEvent, place: number) =>
  `${event.flow}/${event.nominal}/${event.account}/${event.flow ? "" : place}`;

/** The lines of the days shown, each with what it leaves. */
function DaysAsCsv({ ahead }: { ahead: AheadAnswer }) {
  const named = new Map(useAccounts().data?.accounts.map(({ account }) => [account.id, account.name]));
  return (
    <AsCsv
      name={`days-${ahead.today}`}
      of="the days"
      headings={["day", "what", "account", "amount", "currency", "balance after", "above the floor"]}
      rows={() =>
        ahead.events.map((event) => {
          const currency = currencyOf(ahead, event.account);
          const amounts = [event.balance, event.headroom].map((amount) => ({ amount, currency }));
          return [
            event.date,
            event.name,
            named.get(event.account) ?? event.account,
            { amount: event.amount, currency },
            currency,
            ...amounts,
          ];
        })
      }
    />
  );
}
