import { keepPreviousData, useQuery } from "@tanstack/react-query";
import { addMonths, eachDayOfInterval, endOfMonth, endOfWeek, format, startOfWeek } from "date-fns";
import { useMemo, useState } from "react";
import { useSearchParams } from "react-router";
import { Lenses } from "@/places/ahead/Lenses";
import { MoveAsk } from "@/places/ahead/MoveAsk";
import { answer, api, type Schemas } from "@/shared/api/client";
import { useChosenAccounts, useHousehold, useTideline } from "@/shared/api/hooks";
import { levelOn } from "@/shared/charts/steps";
import { civil, digits, iso, monthOf } from "@/shared/format";
import { Button } from "@/shared/kit/Button";
import { useToast } from "@/shared/kit/Toast";
import { useView } from "@/shared/view";
import { type CalendarEvent, Day } from "./Day";

type Weekday = 0 | 1 | 2 | 3 | 4 | 5 | 6;

/** A month of days, each with what moves on it and what it closes with. */
export function Calendar() {
  const household = useHousehold().data;
  const [search] = useSearchParams();
  const { set } = useView();
  if (!household) return null;
  const { today } = household;
  const month = /^\d{4}-\d{2}$/.test(search.get("month") ?? "") ? (search.get("month") as string) : today.slice(0, 7);
  const move = (by: number) => set({ month: format(addMonths(civil(`${month}-01`), by), "yyyy-MM") });
  return (
    <div className="mx-auto max-w-6xl px-4 py-4 md:px-6">
      <Lenses />
      <div className="mb-2 flex flex-wrap items-center gap-2">
        <h1 className="mr-2 text-xl">{monthOf(month)}</h1>
        <Button onClick={() => move(-1)}>The month before</Button>
        <Button onClick={() => move(1)}>The month after</Button>
        {month !== today.slice(0, 7) && (
          <Button look="link" onClick={() => set({ month: null })}>
            This month
          </Button>
        )}
      </div>
      <Month month={month} today={today} weekStartsOn={household.week_starts_on as Weekday} />
    </div>
  );
}

function Month({ month, today, weekStartsOn }: { month: string; today: string; weekStartsOn: Weekday }) {
  const view = useView();
  const [asked, setAsked] = useState<{ event: CalendarEvent; day: string } | null>(null);
  const toast = useToast();
  const days = useMemo(() => daysOf(month, weekStartsOn), [month, weekStartsOn]);
  const first = days[0] as string;
  const last = days.at(-1) as string;
  const until = last < today ? today : last;
  const accounts = useChosenAccounts();
  const events = useQuery({
    queryKey: ["ahead", accounts, first, until, "calendar"],
    placeholderData: keepPreviousData,
    enabled: last >= today,
    queryFn: ({ signal }) =>
      answer<Schemas["AheadAnswer"]>(
        api.GET("/api/ahead", { params: { query: { until, from: first, accounts } }, signal }),
      ),
  }).data?.events;
  const told = useTideline({ accounts: view.accounts, from: first, until, each: false }, NO_CHANGES).data;
  const line = told?.copper ?? told?.line;
  const holidays = useQuery({
    queryKey: ["bank-holidays", first, last],
    placeholderData: keepPreviousData,
    queryFn: () =>
      answer<Schemas["BankHolidays"]>(api.GET("/api/bank-holidays", { params: { query: { from: first, to: last } } })),
  }).data?.days;
  const byDay = useMemo(() => grouped(last >= today ? (events ?? []) : []), [events, last, today]);
  if (!line) return null;
  const moveTo = (event: CalendarEvent, day: string) => {
    if (day < today) toast("What is planned can be moved to today or a later day.");
    else setAsked({ event, day });
  };
  return (
    <div data-testid="calendar">
      <div aria-hidden className="hidden grid-cols-7 text-sm text-pencil @2xl:grid">
        {days.slice(0, 7).map((day) => (
          <span key={day} className="px-1.5 py-1">
            {format(civil(day), "EEEE")}
          </span>
        ))}
      </div>
      <ol className="grid grid-cols-1 border-t border-l border-rule @2xl:grid-cols-7">
        {days.map((day) => {
          const balance = levelOn(day > today ? line.pencil : line.ink, day);
          return (
            <Day
              key={day}
              day={day}
              today={today}
              isOutside={day.slice(0, 7) !== month}
              holiday={holidays?.find((each) => each.date === day)?.name ?? null}
              events={byDay.get(day) ?? []}
              closing={balance === undefined ? null : digits(balance, line.currency)}
              depth={depthOf(balance, line, day, today)}
              currency={line.currency}
              onMove={moveTo}
            />
          );
        })}
      </ol>
      <MoveAsk asked={asked} today={today} onDone={() => setAsked(null)} />
    </div>
  );
}

const NO_CHANGES: Schemas["ChangeRequest"][] = [];

function grouped(events: readonly CalendarEvent[]): Map<string, CalendarEvent[]> {
  const found = new Map<string, CalendarEvent[]>();
  for (const event of events) found.set(event.date, [...(found.get(event.date) ?? []), event]);
  return found;
}

function depthOf(balance: number | undefined, line: Schemas["TidelineModel"], day: string, today: string) {
  if (balance === undefined || day < today) return "clear";
  return balance < line.floor ? "floor" : balance < line.cushion ? "cushion" : "clear";
}

/** The whole weeks that a month is in. */
function daysOf(month: string, weekStartsOn: Weekday): string[] {
  const first = civil(`${month}-01`);
  return eachDayOfInterval({
    start: startOfWeek(first, { weekStartsOn }),
    end: endOfWeek(endOfMonth(first), { weekStartsOn }),
  }).map(iso);
}
