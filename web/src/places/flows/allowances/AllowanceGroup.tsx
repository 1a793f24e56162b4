import { AllowanceBar, useAllowances } from "@/places/ahead/Allowances";
import type { Schemas } from "@/shared/api/client";
import { useEntryChoices } from "@/shared/api/hooks";
import { dayText, money } from "@/shared/format";
import { Button } from "@/shared/kit/Button";
import { useView } from "@/shared/view";

type Row = Schemas["AllowanceRow"];

const PERIODS = { week: "a week", two_weeks: "every two weeks", month: "a month" };

/** Allowances among the flows: limit, what is left, what the forecast holds back, and the daily pace. */
export function AllowanceGroup() {
  const { openSlip } = useView();
  const data = useAllowances().data;
  if (!data) return null;
  return (
    <section aria-label="Allowances" className="mb-7">
      <div className="flex flex-wrap items-baseline gap-x-4 border-b border-rule-strong">
        <h2 className="text-lg">Allowances</h2>
        <Button look="link" onClick={() => openSlip("allowance", null)}>
          Add an allowance
        </Button>
        <Button look="link" onClick={() => openSlip("limits", null)}>
          Add several
        </Button>
      </div>
      {data.allowances.length === 0 && (
        <p className="py-2 text-pencil">
          Spending with no fixed date, such as groceries: set a limit, and it is held back.
        </p>
      )}
      <ul>
        {data.allowances.map((row) => (
          <AllowanceLine key={row.allowance.id} row={row} today={data.today} />
        ))}
      </ul>
    </section>
  );
}

function AllowanceLine({ row, today }: { row: Row; today: string }) {
  const { openSlip } = useView();
  const categories = useEntryChoices().data?.categories ?? [];
  const { allowance, now, currency } = row;
  const names = (allowance.categories ?? []).map((id) => categories.find((category) => category.id === id)?.name ?? id);
  return (
    <li className="border-b border-rule">
      <button
        type="button"
        onClick={() => openSlip("allowance", allowance.id)}
        className="grid w-full grid-cols-[minmax(0,1fr)_auto] items-center gap-x-6 gap-y-1 py-2 text-left hover:bg-hover @2xl:grid-cols-[minmax(0,1fr)_14rem_14rem]"
      >
        <span className="min-w-0">
          <span className="font-semibold">{allowance.name}</span>
          <span className="block break-words text-sm text-pencil">
            {money(row.limit_now, currency)} {PERIODS[allowance.period ?? "month"]} for {names.join(", ")}
            {now && now.limit !== row.limit_now && `; this time ${thisTime(row, now)}`}
          </span>
          {row.note && <span className="block text-sm text-rust">{row.note}</span>}
        </span>
        {now ? <Now now={now} currency={currency} today={today} /> : <span className="text-pencil">not in force</span>}
      </button>
    </li>
  );
}

/** What a period may use, where that is another amount than every one's. */
const thisTime = ({ allowance, currency }: Row, now: NonNullable<Row["now"]>) =>
  `${money(now.limit, currency)}${allowance.carry === "forward" ? " with what was carried over" : ""}`;

function Now({ now, currency, today }: { now: NonNullable<Row["now"]>; currency: string; today: string }) {
  return (
    <>
      <span className="col-span-2 @2xl:col-span-1">
        <AllowanceBar now={now} />
        <span className="block text-sm text-pencil">
          {money(now.used, currency)} used{now.committed > 0 && `, ${money(now.committed, currency)} committed`}
        </span>
      </span>
      <span className="col-start-2 row-start-1 text-right @2xl:col-start-3">
        {now.left >= 0 ? (
          <strong>{money(now.left, currency)} left</strong>
        ) : (
          <strong className="text-rust">{money(-now.left, currency)} over</strong>
        )}
        <span className="block text-sm text-pencil">
          {now.left >= 0 ? `${money(now.daily_pace, currency)} a day` : "overspent"} until {dayText(now.last, today)}
        </span>
      </span>
    </>
  );
}
