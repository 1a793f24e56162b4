import { keepPreviousData, useQuery } from "@tanstack/react-query";
import { addMonths, format } from "date-fns";
import { useSearchParams } from "react-router";
import { answer, api, type Schemas } from "@/shared/api/client";
import { useHousehold } from "@/shared/api/hooks";
import { civil } from "@/shared/format";
import { useShortcuts } from "@/shared/hooks/useShortcuts";
import { BackLink } from "@/shared/kit/BackLink";
import { Button } from "@/shared/kit/Button";
import { useView } from "@/shared/view";
import { CategoryTable } from "./CategoryTable";

const COUNT = 12;

/** Twelve months of categories side by side, until this month or as the address says. */
export function ReviewMonths() {
  const today = useHousehold().data?.today;
  const { accounts, set } = useView();
  const [search] = useSearchParams();
  const asked = search.get("first") ?? "";
  const first = /^\d{4}-\d{2}$/.test(asked) ? asked : today && moved(today, 1 - COUNT);
  const query = { from: first ?? "", count: COUNT, ...(accounts.length > 0 && { accounts: accounts.join(",") }) };
  const { data, error } = useQuery({
    queryKey: ["review-months", query],
    enabled: Boolean(first),
    retry: false,
    placeholderData: keepPreviousData,
    queryFn: ({ signal }) =>
      answer<Schemas["ReviewMonths"]>(api.GET("/api/review/months", { params: { query }, signal })),
  });
  const go = (months: number) => first && set({ first: moved(`${first}-01`, months) });
  useShortcuts({ ",": () => go(-COUNT), ".": () => go(COUNT) });
  return (
    <div className="mx-auto max-w-7xl px-4 py-4 md:px-6">
      <BackLink to="/review" name="Review" />
      <div className="mb-2 flex flex-wrap items-center gap-x-4 gap-y-1">
        <h1 className="text-xl">Months of categories</h1>
        <Button look="link" title="The year before (,)" onClick={() => go(-COUNT)}>
          Earlier
        </Button>
        <Button look="link" title="The year after (.)" onClick={() => go(COUNT)}>
          Later
        </Button>
      </div>
      {error && <p role="alert">{error.message}</p>}
      {data && !error && <CategoryTable data={data} />}
    </div>
  );
}

/** The month so many months from a day. */
const moved = (day: string, months: number) => format(addMonths(civil(day), months), "yyyy-MM");
