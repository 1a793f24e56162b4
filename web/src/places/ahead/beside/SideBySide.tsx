import { keepPreviousData } from "@tanstack/react-query";
import { useState } from "react";
import { useSearchParams } from "react-router";
import { Lenses } from "@/places/ahead/Lenses";
import { server } from "@/shared/api/client";
import { useChosenAccounts, useHousehold } from "@/shared/api/hooks";
import { Alert } from "@/shared/kit/Alert";
import { Select } from "@/shared/kit/fields/Select";
import { useView } from "@/shared/view";
import { useWhatIfs } from "@/shared/whatIf";
import { BesideChart } from "./BesideChart";
import { BesideTable } from "./BesideTable";
import { KeptList } from "./KeptList";
import { ReadyMade } from "./ReadyMade";

const MOST = 4;
const YEARS_AHEAD = [0, 1, 2, 4, 9];

/** What-ifs that are kept: chosen ones beside the plan, and new ones begun from a few figures. */
export function SideBySide() {
  const { set } = useView();
  const accounts = useChosenAccounts();
  const [search] = useSearchParams();
  const thisYear = Number(useHousehold().data?.today.slice(0, 4));
  const whatIfs = useWhatIfs().data?.what_ifs;
  const asked = search.get("beside")?.split(",").filter(Boolean);
  const years = YEARS_AHEAD.map(String).includes(search.get("years") ?? "") ? Number(search.get("years")) : 2;
  const chosen = (asked ?? whatIfs?.map(({ id }) => id) ?? []).filter((id) =>
    whatIfs?.some((whatIf) => whatIf.id === id),
  );
  const shown = chosen.slice(0, MOST);
  const { data, error } = server.useQuery(
    "get",
    "/api/side-by-side",
    { params: { query: { what_ifs: shown.join(","), years, accounts: accounts } } },
    { placeholderData: keepPreviousData, retry: false, enabled: shown.length > 0 || whatIfs?.length === 0 },
  );
  const [isBegun, setBegun] = useState(false);
  if (!whatIfs) return null;
  // How high the columns are is known with them: what comes below comes then, and stays.
  const isAwaited = shown.length > 0 && !data && !error;
  if (!isAwaited && !isBegun) setBegun(true);
  return (
    <div className="mx-auto max-w-6xl px-4 py-4 md:px-6">
      <Lenses />
      <h1 className="sr-only">What-ifs</h1>
      {whatIfs.length > 0 && (
        <>
          <div className="mb-2 flex flex-wrap items-center gap-3">
            <Select
              label="How far"
              value={String(years)}
              options={YEARS_AHEAD.map((ahead) => ({
                value: String(ahead),
                label: `To the end of ${thisYear + ahead}`,
              }))}
              onChange={(next) => set({ years: next })}
              className="field !w-60"
            />
            {whatIfs.length > MOST && <p className="text-pencil">Up to four stand side by side.</p>}
          </div>
          <Alert error={error} />
          {shown.length > 0 && data && (
            <>
              <BesideChart data={data} />
              <BesideTable data={data} />
            </>
          )}
          {isAwaited && isBegun && <div className="min-h-[38rem]" />}
          {isBegun && (
            <KeptList
              whatIfs={whatIfs}
              shown={shown}
              most={MOST}
              onShow={(ids) => set({ beside: ids.length ? ids.join(",") : "-" })}
            />
          )}
        </>
      )}
      {isBegun && <ReadyMade isFirst={whatIfs.length === 0} />}
      {whatIfs.length === 0 && data && (
        <section aria-label="The plan alone" className="mt-6">
          <p className="mb-2 text-pencil">
            So far the plan stands alone; what is tried gets a line and a column beside it.
          </p>
          <BesideChart data={data} />
          <BesideTable data={data} />
        </section>
      )}
    </div>
  );
}
