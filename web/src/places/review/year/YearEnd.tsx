import { keepPreviousData } from "@tanstack/react-query";
import { useSearchParams } from "react-router";
import { type Schemas, server } from "@/shared/api/client";
import { useHousehold } from "@/shared/api/hooks";
import { useShortcuts } from "@/shared/hooks/useShortcuts";
import { Alert } from "@/shared/kit/Alert";
import { BackLink } from "@/shared/kit/BackLink";
import { Button } from "@/shared/kit/Button";
import { PaperPage } from "@/shared/look/paper";
import { useView } from "@/shared/view";
import { useCosts } from "./Costs";
import { NextYear } from "./NextYear";
import { YearSheet } from "./YearSheet";

export type Year = Schemas["YearEndAnswer"];

/** The year of the address; without one, the last that is over. */
function useYear() {
  const today = useHousehold().data?.today;
  const [search] = useSearchParams();
  const text = search.get("year") ?? "";
  const year = /^\d{4}$/.test(text) ? Number(text) : today ? Number(today.slice(0, 4)) - 1 : undefined;
  const { data, error } = server.useQuery(
    "get",
    "/api/review/year-end/{year}",
    { params: { path: { year: year ?? 0 } } },
    { enabled: year !== undefined, retry: false, placeholderData: keepPreviousData },
  );
  // The sheet is one, no part of it pushes another down: what it costs is asked for at once, and waited for.
  useCosts(year);
  const isWhole = !useCosts(data?.year).isPending;
  return { year, data: isWhole ? data : undefined, error };
}

/** What a year came to, where everything stood at both ends, and what to change for the next. */
export function YearEnd() {
  const { set } = useView();
  const { year, data, error } = useYear();
  const go = (years: number) => year !== undefined && set({ year: String(year + years) });
  useShortcuts({ ",": () => go(-1), ".": () => go(1) });
  const link = "inline-flex min-h-10 items-center rounded-sm px-2 text-copper hover:bg-hover";
  return (
    <div className="mx-auto max-w-5xl px-4 py-4 md:px-6">
      <BackLink to="/review" name="Review" />
      <div className="mb-2 flex flex-wrap items-center gap-x-3 gap-y-1">
        <h1 className="text-xl">The year {year}</h1>
        <Button look="link" title="The year before (,)" onClick={() => go(-1)}>
          Earlier
        </Button>
        <Button look="link" title="The year after (.)" onClick={() => go(1)}>
          Later
        </Button>
        {data && (
          <>
            <a className={link} href={`/print/year-end?year=${year}`} target="_blank" rel="noreferrer">
              On paper
            </a>
            <a className={link} href={`/api/review/year-end/${year}/workbook.xlsx`} download>
              As a workbook
            </a>
          </>
        )}
      </div>
      <Alert error={error} />
      {data && !error && (
        <>
          <YearSheet data={data} />
          <NextYear data={data} />
        </>
      )}
    </div>
  );
}

/** The year on paper. */
export function PrintYearEnd() {
  const { year, data, error } = useYear();
  return (
    <PaperPage title={`The year ${year}`} error={error} className="mx-auto max-w-5xl text-sm">
      {data ? () => <YearSheet data={data} /> : null}
    </PaperPage>
  );
}
