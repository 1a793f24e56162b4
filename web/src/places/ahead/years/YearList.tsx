import { useSearchParams } from "react-router";
import { Lenses } from "@/places/ahead/Lenses";
import { type Schemas, server } from "@/shared/api/client";
import { useHousehold } from "@/shared/api/hooks";
import { AsCsv } from "@/shared/csv/AsCsv";
import { Alert } from "@/shared/kit/Alert";
import { Button } from "@/shared/kit/Button";
import { Wide } from "@/shared/kit/Wide";
import { PaperPage } from "@/shared/look/paper";
import { useView } from "@/shared/view";
import { Key } from "./Mark";
import { YearStrips } from "./YearStrips";
import { YearTable } from "./YearTable";

type YearListAnswer = Schemas["YearListAnswer"];

function useYearList(year: number | undefined) {
  return server.useQuery(
    "get",
    "/api/year-list",
    { params: { query: { year: year as number } } },
    { enabled: year !== undefined },
  );
}

function useYear(): number | undefined {
  const today = useHousehold().data?.today;
  const [search] = useSearchParams();
  const asked = search.get("year") ?? "";
  if (!today) return undefined;
  return /^(19|20|21)\d\d$/.test(asked) ? Number(asked) : Number(today.slice(0, 4));
}

/** The year's bills in order of due day, each month settled or not. */
export function YearList() {
  const { set } = useView();
  const year = useYear();
  const { data, error } = useYearList(year);
  if (year === undefined) return null;
  return (
    <div className="mx-auto max-w-7xl px-4 py-4 md:px-6">
      <Lenses />
      <div className="mb-2 flex flex-wrap items-center gap-2">
        <h1 className="mr-2 text-xl">Bills of {year}</h1>
        <Button onClick={() => set({ year: String(year - 1) })}>{year - 1}</Button>
        <Button onClick={() => set({ year: String(year + 1) })}>{year + 1}</Button>
        <a
          href={`/print/year?year=${year}`}
          target="_blank"
          rel="noreferrer"
          className="inline-flex min-h-10 items-center px-2 text-copper hover:bg-hover"
        >
          On one page
        </a>
        {data && data.rows.length > 0 && <YearAsCsv data={data} />}
      </div>
      <Alert error={error} />
      {data && data.rows.length === 0 && <p className="text-pencil">No bill is planned or recorded in {year}.</p>}
      {data && data.rows.length > 0 && (
        <>
          <Key />
          <YearTable data={data} />
          <YearStrips data={data} />
        </>
      )}
    </div>
  );
}

/** The year's bills, a column for each month. */
function YearAsCsv({ data }: { data: YearListAnswer }) {
  const months = Array.from({ length: 12 }, (_, at) => `${data.year}-${String(at + 1).padStart(2, "0")}`);
  return (
    <AsCsv
      name={`bills-${data.year}`}
      of="the year's bills"
      headings={["name", "due day", "rhythm", "currency", ...months, "together"]}
      rows={() =>
        data.rows.map(({ name, due_day, rhythm, currency, months: marks, total }) => [
          name,
          String(due_day),
          rhythm,
          currency,
          ...marks.map(({ amount }) => ({ amount, currency })),
          { amount: total, currency },
        ])
      }
    />
  );
}

/** The year list on one printed page. */
export function PrintYearList() {
  const { data, error } = useYearList(useYear());
  return (
    <PaperPage title={`Bills of ${data?.year}`} error={error} className="mx-auto max-w-6xl">
      {data
        ? () => (
            <Wide label="The year, scrolled sideways" className="print:overflow-visible">
              <YearTable data={data} onPaper />
            </Wide>
          )
        : null}
    </PaperPage>
  );
}
