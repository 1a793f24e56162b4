import { keepPreviousData } from "@tanstack/react-query";
import { type Schemas, server } from "@/shared/api/client";
import { useHousehold } from "@/shared/api/hooks";
import { dayText } from "@/shared/format";

export type Timing = Omit<Schemas["OccurrencesRequest"], "from" | "to" | "country">;

/** The sentence and the next six dates of an unsaved schedule, as the core reads it. */
export function useOccurrences(timing: Timing) {
  const household = useHousehold().data;
  const body = { ...timing, country: household?.household.country ?? null };
  return server.useQuery(
    "post",
    "/api/tools/occurrences",
    { body },
    {
      // As long as there is no date, there is nothing to ask.
      enabled: Boolean(timing.rules?.length || timing.dates?.length),
      retry: false,
      placeholderData: keepPreviousData,
    },
  );
}

export function NextDates({ timing }: { timing: Timing }) {
  const today = useHousehold().data?.today;
  const { data, error, isPlaceholderData, isLoading } = useOccurrences(timing);
  if (error) return <p className="text-sm text-rust">{error.message}</p>;
  // Its four lines are there before they are read: the fields below stay where they are.
  if (isLoading) return <div className="min-h-[5.35rem]" />;
  if (!data || (isPlaceholderData && !timing.rules?.length && !timing.dates?.length)) return null;
  return (
    <div aria-live="polite" data-testid="next-dates" className="text-sm">
      <p>
        <span className="text-pencil">Reads: </span>
        {data.text}.
      </p>
      <p className="text-pencil">Next:</p>
      <ol className="pencilled grid grid-cols-3 gap-x-3">
        {data.next.map((day) => (
          <li key={day} className="whitespace-nowrap">
            {dayText(day, today)}
          </li>
        ))}
      </ol>
      {data.notes.map((note) => (
        <p key={note} className="mt-1 border-l-2 border-honey pl-2">
          {note}
        </p>
      ))}
      {data.next.length === 0 && <p className="pencilled">It has ended: no date is ahead.</p>}
    </div>
  );
}
