import { addMonths, format } from "date-fns";
import { useSearchParams } from "react-router";
import { Lenses } from "@/places/ahead/Lenses";
import { useAccounts, useChosenAccounts, useHousehold } from "@/shared/api/hooks";
import { civil } from "@/shared/format";
import { Button } from "@/shared/kit/Button";
import { Select } from "@/shared/kit/fields/Select";
import { useView } from "@/shared/view";
import { MonthsGrid } from "./MonthsGrid";
import { useMonths } from "./useMonths";

const COUNTS = [12, 24, 60].map((count) => ({ value: String(count), label: `${count} months` }));

/** A column for every month: what opens it, comes in, goes out and closes it, flow by flow. */
export function Months() {
  const today = useHousehold().data?.today;
  const [search] = useSearchParams();
  const { set } = useView();
  const accounts = useChosenAccounts();
  if (!today) return null;
  const from = /^\d{4}-\d{2}$/.test(search.get("month") ?? "") ? (search.get("month") as string) : today.slice(0, 7);
  const count = COUNTS.some(({ value }) => value === search.get("months")) ? Number(search.get("months")) : 12;
  const move = (by: number) => set({ month: format(addMonths(civil(`${from}-01`), by), "yyyy-MM") });
  return (
    <div className="px-4 py-4 md:px-6">
      <h1 className="sr-only">Months</h1>
      <Lenses />
      <div className="mb-2 flex flex-wrap items-center gap-2">
        <Button onClick={() => move(-12)}>A year back</Button>
        <Button onClick={() => move(12)}>A year on</Button>
        {from !== today.slice(0, 7) && (
          <Button look="link" onClick={() => set({ month: null })}>
            From this month
          </Button>
        )}
        <Select
          label="How many months"
          value={String(count)}
          options={COUNTS}
          onChange={(next) => set({ months: next })}
          className="field !w-36"
        />
      </div>
      <Grid from={from} count={count} accounts={accounts} today={today} />
    </div>
  );
}

function Grid({
  from,
  count,
  accounts,
  today,
}: {
  from: string;
  count: number;
  accounts: string | null;
  today: string;
}) {
  const { data, error } = useMonths(from, count, accounts);
  const known = useAccounts();
  const names = new Map(known.data?.accounts.map(({ account }) => [account.id, account.name]));
  if (error) return <p role="alert">{error.message}</p>;
  // Their names may take one line more than their ids, and would push the table down.
  if (!data || known.isPending) return null;
  return (
    <div data-testid="months">
      <p className="mb-1 text-sm text-pencil">
        {data.accounts.map((id) => names.get(id) ?? id).join(", ")}
        {data.accounts.length > 1 && " together; transfers between them are left out"}.
      </p>
      {data.notes.map((note) => (
        <p key={note} className="mb-1 border-l-2 border-honey pl-2 text-sm">
          {note}
        </p>
      ))}
      <MonthsGrid data={data} today={today} />
    </div>
  );
}
