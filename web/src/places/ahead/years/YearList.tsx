import { useQuery } from "@tanstack/react-query";
import { useSearchParams } from "react-router";
import { Lenses } from "@/places/ahead/Lenses";
import { answer, api, type Schemas } from "@/shared/api/client";
import { useHousehold } from "@/shared/api/hooks";
import { digits, money, setWriting } from "@/shared/format";
import { Button } from "@/shared/kit/Button";
import { PaperHeading, useOnPaper } from "@/shared/look/paper";
import { useView } from "@/shared/view";
import { Mark, MONTHS } from "./Mark";

type YearListAnswer = Schemas["YearListAnswer"];
type Row = Schemas["YearListRow"];

function useYearList(year: number | undefined) {
  return useQuery({
    queryKey: ["year-list", year],
    enabled: year !== undefined,
    queryFn: () => answer<YearListAnswer>(api.GET("/api/year-list", { params: { query: { year: year as number } } })),
  });
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
      </div>
      {error && <p role="alert">{error.message}</p>}
      {data && data.rows.length === 0 && <p className="text-pencil">No bill is planned or recorded in {year}.</p>}
      {data && data.rows.length > 0 && (
        <>
          <Key />
          <Table data={data} />
          <Strips data={data} />
        </>
      )}
    </div>
  );
}

/** What the marks mean, once. */
function Key() {
  return (
    <p className="mb-2 flex flex-wrap items-center gap-x-5 text-sm text-pencil">
      {(["settled", "part", "expected", "past_due"] as const).map((stands) => (
        <span key={stands} className="inline-flex items-center gap-1.5">
          <Mark stands={stands} /> {WORDS[stands]}
        </span>
      ))}
    </p>
  );
}

const WORDS = { settled: "settled", part: "settled in part", expected: "expected", past_due: "past due" };

/** All of it as a table, where there is room. */
function Table({ data, onPaper = false }: { data: YearListAnswer; onPaper?: boolean }) {
  const cell = onPaper ? "px-1" : "px-1.5";
  return (
    <table
      aria-label={`Bills of ${data.year}`}
      className={`w-full border-collapse text-right ${onPaper ? "text-[9.5pt] leading-tight" : "hidden text-sm @6xl:table"}`}
    >
      <thead>
        <tr className="border-b border-rule-strong [&>th]:font-normal [&>th]:text-pencil">
          <th className={cell}>Day</th>
          <th className={`${cell} text-left`}>Bill</th>
          {MONTHS.map((month) => (
            <th key={month} className={cell}>
              {month}
            </th>
          ))}
          <th className={cell}>A month</th>
          <th className={cell}>Year</th>
          <th className={cell}>Still owed</th>
        </tr>
      </thead>
      <tbody>
        {data.rows.map((row) => (
          <tr key={row.id} className="border-b border-rule">
            <td className={cell}>{row.due_day}</td>
            <th scope="row" className={`${cell} max-w-56 truncate text-left font-normal ${onPaper ? "" : "py-1"}`}>
              <RowName row={row} onPaper={onPaper} />
            </th>
            {row.months.map((mark, place) => (
              <td key={MONTHS[place]} className={cell}>
                <Mark
                  stands={mark.stands}
                  says={
                    mark.stands === "none" ? undefined : `${money(mark.amount, row.currency)} ${WORDS[mark.stands]}`
                  }
                />
              </td>
            ))}
            <td className={cell}>{digits(row.monthly, row.currency)}</td>
            <td className={cell}>{digits(row.total, row.currency)}</td>
            <td className={cell}>{row.owed === null ? "" : digits(row.owed, row.currency)}</td>
          </tr>
        ))}
      </tbody>
      <tfoot>
        <tr className="border-t border-rule-strong font-semibold">
          <td />
          <th scope="row" className={`${cell} py-1 text-left`}>
            Together
          </th>
          {data.months.map((sum, place) => (
            <td key={MONTHS[place]} className={`${cell} ${onPaper ? "text-[8pt]" : "text-xs"}`}>
              {digits(sum, data.currency)}
            </td>
          ))}
          <td />
          <td className={cell}>{digits(data.total, data.currency)}</td>
          <td className={cell}>{digits(data.owed, data.currency)}</td>
        </tr>
      </tfoot>
    </table>
  );
}

function RowName({ row, onPaper }: { row: Row; onPaper: boolean }) {
  const { openSlip } = useView();
  if (onPaper || row.rhythm === "") return row.name;
  return (
    <button
      type="button"
      title={row.rhythm}
      className="max-w-full truncate hover:underline"
      onClick={() => openSlip("flow", row.id)}
    >
      {row.name}
    </button>
  );
}

/** The same for a narrow screen: a bill with its twelve months below it. */
function Strips({ data }: { data: YearListAnswer }) {
  return (
    <div className="@6xl:hidden">
      <ol>
        {data.rows.map((row) => (
          <li key={row.id} className="border-b border-rule py-2">
            <p className="flex justify-between gap-3">
              <span className="min-w-0 truncate">
                <span className="mr-2 inline-block w-6 text-right text-pencil">{row.due_day}</span>
                <RowName row={row} onPaper={false} />
              </span>
              <span className="whitespace-nowrap">{digits(row.monthly, row.currency)} a month</span>
            </p>
            <p className="flex items-center justify-between gap-3 pl-8 text-sm text-pencil">
              <span className="flex gap-1">
                {row.months.map((mark, place) => (
                  <Mark
                    key={MONTHS[place]}
                    stands={mark.stands}
                    says={
                      mark.stands === "none"
                        ? undefined
                        : `${MONTHS[place]}: ${money(mark.amount, row.currency)} ${WORDS[mark.stands]}`
                    }
                  />
                ))}
              </span>
              {row.owed !== null && <span>{digits(row.owed, row.currency)} owed</span>}
            </p>
          </li>
        ))}
      </ol>
      <p className="flex justify-between py-2 font-semibold">
        <span>The year</span> <span>{money(data.total, data.currency)}</span>
      </p>
      <p className="flex justify-between">
        <span>Still owed on debts</span> <span>{money(data.owed, data.currency)}</span>
      </p>
    </div>
  );
}

/** The year list on one printed page. */
export function PrintYearList() {
  const household = useHousehold().data;
  const { data, error } = useYearList(useYear());
  useOnPaper();
  if (error) return <p role="alert">{error.message}</p>;
  if (!household || !data) return null;
  setWriting(household);
  return (
    <main className="mx-auto max-w-6xl p-6 print:p-0">
      <PaperHeading title={`Bills of ${data.year}${household.household.name ? `, ${household.household.name}` : ""}`} />
      <Table data={data} onPaper />
    </main>
  );
}
