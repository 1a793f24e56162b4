import { keepPreviousData, useQuery } from "@tanstack/react-query";
import { answer, api, type Schemas } from "@/shared/api/client";
import { useAccounts, useFlows } from "@/shared/api/hooks";
import { useView } from "@/shared/view";
import { useWaters } from "@/shared/waters";
import { Allowances } from "./Allowances";
import { Lenses } from "./Lenses";
import { Outlook } from "./Outlook";
import { RunOfDays } from "./RunOfDays";
import { StretchFigures } from "./StretchFigures";
import { Welcome } from "./Welcome";

/** The coming days: until the next payday, low points, and the run of days. */
export function Ahead() {
  const accounts = useAccounts().data?.accounts;
  const flows = useFlows().data?.flows;
  if (!accounts || !flows) return null;
  const isBeginning = accounts.length === 0 || flows.length === 0;
  return (
    <div className="mx-auto max-w-6xl px-4 py-4 md:px-6">
      <h1 className="sr-only">Ahead</h1>
      {isBeginning || !flows.some(({ flow }) => flow.kind === "bill") ? (
        <Welcome accounts={accounts} flows={flows} />
      ) : null}
      {!isBeginning && (
        <>
          <Lenses />
          <Days />
        </>
      )}
    </div>
  );
}

function Days() {
  const view = useView();
  const waters = useWaters();
  const from = view.period && view.period.from > waters.today ? view.period.from : null;
  const end = view.period?.until ?? waters.until;
  const until = [end, waters.today].sort().at(-1) ?? end;
  const accounts = view.accounts.join(",") || null;
  const { data, error } = useQuery({
    queryKey: ["ahead", accounts, from, until],
    placeholderData: keepPreviousData,
    queryFn: ({ signal }) =>
      answer<Schemas["AheadAnswer"]>(api.GET("/api/ahead", { params: { query: { until, from, accounts } }, signal })),
  });
  if (error) return <p role="alert">{error.message}</p>;
  if (!data) return null;
  return (
    <>
      {view.period && (
        <StretchFigures
          from={view.period.from}
          to={view.period.until}
          accounts={data.accounts.map((account) => account.id).join(",")}
          today={data.today}
        />
      )}
      <Outlook ahead={data} until={until} />
      <Allowances />
      <RunOfDays ahead={data} />
      {data.events_in_all > data.events.length && (
        <p className="py-3 text-pencil">
          These are the first {data.events.length.toLocaleString("en")} of {data.events_in_all.toLocaleString("en")}{" "}
          movements. Pick days on the tideline to see others.
        </p>
      )}
    </>
  );
}
