import { keepPreviousData } from "@tanstack/react-query";
import { addMonths, format } from "date-fns";
import { useSearchParams } from "react-router";
import { server } from "@/shared/api/client";
import { useHousehold } from "@/shared/api/hooks";
import { civil } from "@/shared/format";
import { useShortcuts } from "@/shared/hooks/useShortcuts";
import { Alert } from "@/shared/kit/Alert";
import { BackLink } from "@/shared/kit/BackLink";
import { Button } from "@/shared/kit/Button";
import { PaperPage } from "@/shared/look/paper";
import { useView } from "@/shared/view";
import { CategoryTable } from "./CategoryTable";

const COUNT = 12;

/** Twelve months, until this one or as the address says. */
function useMonths() {
  const today = useHousehold().data?.today;
  const accounts = useView().accounts.join(",");
  const [search] = useSearchParams();
  const asked = search.get("first") ?? "";
  const first = /^\d{4}-\d{2}$/.test(asked) ? asked : today && moved(today, 1 - COUNT);
  const query = { from: first ?? "", count: COUNT, ...(accounts && { accounts }) };
  const { data, error } = server.useQuery(
    "get",
    "/api/review/months",
    { params: { query } },
    { enabled: Boolean(first), retry: false, placeholderData: keepPreviousData },
  );
  return { first, accounts, data, error };
}

/** Twelve months of categories side by side. */
export function ReviewMonths() {
  const { set } = useView();
  const { first, accounts, data, error } = useMonths();
  const go = (months: number) => first && set({ first: moved(`${first}-01`, months) });
  useShortcuts({ ",": () => go(-COUNT), ".": () => go(COUNT) });
  const of = accounts && `&accounts=${encodeURIComponent(accounts)}`;
  const link = "inline-flex min-h-10 items-center rounded-sm px-2 text-copper hover:bg-hover";
  return (
    <div className="mx-auto max-w-[100rem] px-4 py-4 md:px-6">
      <BackLink to="/review" name="Review" />
      <div className="mb-2 flex flex-wrap items-center gap-x-3 gap-y-1">
        <h1 className="text-xl">Months of categories</h1>
        <Button look="link" title="The year before (,)" onClick={() => go(-COUNT)}>
          Earlier
        </Button>
        <Button look="link" title="The year after (.)" onClick={() => go(COUNT)}>
          Later
        </Button>
        {data && (
          <>
            <a className={link} href={`/print/review-months?first=${first}${of}`} target="_blank" rel="noreferrer">
              On paper
            </a>
            <a className={link} href={`/api/review/months/workbook.xlsx?from=${first}&count=${COUNT}${of}`} download>
              As a workbook
            </a>
          </>
        )}
      </div>
      <Alert error={error} />
      {data && !error && <CategoryTable data={data} accounts={accounts} />}
    </div>
  );
}

/** The same on paper. */
export function PrintReviewMonths() {
  const { accounts, data, error } = useMonths();
  return (
    <PaperPage title="Months of categories" error={error} className="text-sm">
      {data ? () => <CategoryTable data={data} accounts={accounts} isPaper /> : null}
    </PaperPage>
  );
}

/** The month so many months from a day. */
const moved = (day: string, months: number) => format(addMonths(civil(day), months), "yyyy-MM");
