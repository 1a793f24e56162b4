import { keepPreviousData } from "@tanstack/react-query";
import { lazy, Suspense, useEffect } from "react";
import { useSearchParams } from "react-router";
import { filtersOf } from "@/places/ahead/days/DayFilters";
import { server } from "@/shared/api/client";
import { useAccounts, useChosenAccounts, useFlows } from "@/shared/api/hooks";
import { counted } from "@/shared/format";
import { useWaters } from "@/shared/look/waters";
import { useView } from "@/shared/view";
import { Allowances, useAllowances } from "./Allowances";
import { showGuide, useGuide } from "./guide";
import { useLeft } from "./LeftLine";
import { Lenses } from "./Lenses";
import { MissedLine } from "./news/MissedLine";
import { NewsLine } from "./news/NewsLine";
import { Outlook } from "./Outlook";

// What stands further down, or only at times, does not keep the first figures waiting.
const RunOfDays = lazy(async () => ({ default: (await import("@/places/ahead/days/RunOfDays")).RunOfDays }));
const StretchFigures = lazy(async () => ({ default: (await import("./StretchFigures")).StretchFigures }));
const Welcome = lazy(async () => ({ default: (await import("./Welcome")).Welcome }));

/** The coming days: until the next payday, low points, and the run of days. */
export function Ahead() {
  const accounts = useAccounts().data?.accounts;
  const flows = useFlows().data?.flows;
  const allowances = useAllowances().data?.allowances;
  const guide = useGuide();
  const hasBegunHere = accounts?.length === 0;
  useEffect(() => {
    // Whoever begins here is guided until saying that all is there; a household that is whole elsewhere is not.
    if (hasBegunHere && guide === null) showGuide();
  }, [hasBegunHere, guide]);
  if (!accounts || !flows) return null;
  const isBeginning = accounts.length === 0 || flows.length === 0;
  const has = (kind: string) => flows.some(({ flow }) => flow.kind === kind);
  const isFull = !isBeginning && has("income") && has("bill") && (allowances?.length ?? 1) > 0;
  const isGuided = guide === "shown" || isBeginning || (guide === null && !isFull);
  return (
    <div className="mx-auto max-w-6xl px-4 py-4 md:px-6">
      <h1 className="sr-only">Ahead</h1>
      {accounts.length > 0 && <Lenses />}
      <NewsLine />
      <MissedLine />
      {isGuided ? (
        <Suspense>
          <Welcome accounts={accounts} flows={flows} allowances={allowances?.length ?? 0} />
        </Suspense>
      ) : null}
      {!isBeginning && <Days />}
    </div>
  );
}

function Days() {
  const view = useView();
  const waters = useWaters();
  const from = view.period && view.period.from > waters.today ? view.period.from : null;
  const end = view.period?.until ?? waters.until;
  const until = [end, waters.today].sort().at(-1) ?? end;
  const accounts = useChosenAccounts();
  const [search] = useSearchParams();
  const filters = filtersOf(search);
  const { data, error } = server.useQuery(
    "get",
    "/api/ahead",
    { params: { query: { until, from, accounts, ...filters } } },
    { placeholderData: keepPreviousData },
  );
  // What is told below it stands where it stays: it does not come before.
  const isLeftAwaited = useLeft().isLoading;
  if (error) return <p role="alert">{error.message}</p>;
  if (!data || isLeftAwaited) return null;
  return (
    <>
      {view.period && (
        <Suspense>
          <StretchFigures
            from={view.period.from}
            to={view.period.until}
            accounts={data.accounts.map((account) => account.id).join(",")}
            today={data.today}
          />
        </Suspense>
      )}
      <Outlook ahead={data} until={until} />
      <Allowances />
      <Suspense>
        <RunOfDays ahead={data} filters={filters} />
      </Suspense>
      {data.events_in_all > data.events.length && (
        <p className="py-3 text-pencil">
          These are the first {counted(data.events.length)} of {counted(data.events_in_all)} movements. Pick days on the
          tideline to see others.
        </p>
      )}
    </>
  );
}
