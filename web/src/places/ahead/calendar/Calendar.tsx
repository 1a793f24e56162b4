import { keepPreviousData } from "@tanstack/react-query";
import { addMonths, eachDayOfInterval, endOfMonth, endOfWeek, format, startOfWeek } from "date-fns";
import { useMemo, useState } from "react";
import { useSearchParams } from "react-router";
import { MoveAsk } from "@/places/ahead/days/MoveAsk";
import type { Movable } from "@/places/ahead/days/useMove";
import { Lenses } from "@/places/ahead/Lenses";
import { server } from "@/shared/api/client";
import { useChosenAccounts, useHousehold } from "@/shared/api/hooks";
import { civil, iso, monthOf } from "@/shared/format";
import { Button } from "@/shared/kit/Button";
import { useToast } from "@/shared/kit/Toast";
import { useView } from "@/shared/view";
import { Day } from "./Day";

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
  const [asked, setAsked] = useState<{ event: Movable; day: string } | null>(null);
  const toast = useToast();
  const days = useMemo(() => daysOf(month, weekStartsOn), [month, weekStartsOn]);
  const { calendar, error, holidays, isAwaited } = useMonth(days[0] as string, days.at(-1) as string);
  if (error) return <p role="alert">{error.message}</p>;
  if (!calendar || isAwaited) return null;
  const moveTo = (event: Movable, day: string) => {
    if (day < today) toast("What is planned can be moved to today or a later day.");
    else setAsked({ event, day });
  };
  return (
    <div data-testid="calendar">
      <p className="mb-1 text-sm text-pencil">
        {calendar.accounts.join(", ")}: each day's closing balance{calendar.accounts.length > 1 && ", together"}.
      </p>
      <div aria-hidden className="hidden grid-cols-7 text-sm text-pencil @2xl:grid">
        {days.slice(0, 7).map((day) => (
          <span key={day} className="px-1.5 py-1">
            {format(civil(day), "EEEE")}
          </span>
        ))}
      </div>
      <ol className="grid grid-cols-1 border-t border-l border-rule @2xl:grid-cols-7">
        {calendar.days.map((day) => (
          <Day
            key={day.date}
            day={day}
            today={today}
            isOutside={day.date.slice(0, 7) !== month}
            holiday={holidays?.find((holiday) => holiday.date === day.date)?.name ?? null}
            currency={calendar.currency}
            onMove={moveTo}
          />
        ))}
      </ol>
      <MoveAsk asked={asked} today={today} onDone={() => setAsked(null)} />
    </div>
  );
}

/** What the days from one to another hold, and their bank holidays. */
function useMonth(from: string, to: string) {
  const accounts = useChosenAccounts();
  const { data: calendar, error } = server.useQuery(
    "get",
    "/api/calendar-days",
    { params: { query: { from, to, accounts } } },
    { placeholderData: keepPreviousData },
  );
  const holidays = server.useQuery(
    "get",
    "/api/bank-holidays",
    { params: { query: { from, to } } },
    { placeholderData: keepPreviousData },
  );
  // A holiday is a line more in its day, which would push down all that comes after.
  return { calendar, error, holidays: holidays.data?.days, isAwaited: holidays.isPending };
}

/** The whole weeks that a month is in. */
function daysOf(month: string, weekStartsOn: Weekday): string[] {
  const first = civil(`${month}-01`);
  return eachDayOfInterval({
    start: startOfWeek(first, { weekStartsOn }),
    end: endOfWeek(endOfMonth(first), { weekStartsOn }),
  }).map(iso);
}
