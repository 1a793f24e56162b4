import { type Schemas, server } from "@/shared/api/client";
import { dayText, money } from "@/shared/format";
import { useView } from "@/shared/view";

type Row = Schemas["AllowanceRow"];

export function useAllowances() {
  return server.useQuery("get", "/api/allowances");
}

/** What is left of each allowance, until when, and the pace that would use it exactly. */
export function Allowances() {
  const data = useAllowances().data;
  if (!data || data.allowances.length === 0) return null;
  return (
    <section aria-label="Allowances" className="mb-4">
      <ul className="flex flex-wrap gap-x-8 gap-y-2">
        {data.allowances.map((row) => (
          <Allowance key={row.allowance.id} row={row} today={data.today} />
        ))}
      </ul>
    </section>
  );
}

function Allowance({ row, today }: { row: Row; today: string }) {
  const { openSlip } = useView();
  const { allowance, now, currency } = row;
  if (!now) return null;
  return (
    <li className="max-w-full min-w-60">
      <button type="button" onClick={() => openSlip("allowance", allowance.id)} className="block w-full text-left">
        <span className="flex items-baseline justify-between gap-4">
          <span>{allowance.name}</span>
          {now.left >= 0 ? (
            <strong className="whitespace-nowrap">{money(now.left, currency)} left</strong>
          ) : (
            <strong className="whitespace-nowrap text-rust">{money(-now.left, currency)} over</strong>
          )}
        </span>
        <AllowanceBar now={now} />
        <span className="block text-sm text-pencil">
          {now.left >= 0
            ? `${money(now.daily_pace, currency)} a day until ${dayText(now.last, today)}`
            : row.costs_lowest > 0
              ? `costs ${money(row.costs_lowest, currency)} at the lowest point`
              : "does not touch the lowest point"}
        </span>
        {row.note && <span className="block text-sm text-rust">{row.note}</span>}
      </button>
    </li>
  );
}

/** Used in ink, committed in pencil, what is left blank, on the limit's own baseline. */
export function AllowanceBar({ now }: { now: NonNullable<Row["now"]> }) {
  const whole = Math.max(1, now.limit, now.used + now.committed);
  const width = (amount: number) => Math.max(0, Math.min(1, amount / whole)) * 240;
  return (
    <svg viewBox="0 0 240 9" className="my-1 block h-2.5 w-full" preserveAspectRatio="none" aria-hidden="true">
      <rect x="0.5" y="0.5" width="239" height="8" fill="none" stroke="var(--rule-strong)" strokeWidth="1" />
      <rect x="0" y="0" width={width(now.used)} height="9" fill={now.left < 0 ? "var(--rust)" : "var(--ink)"} />
      <rect x={width(now.used)} y="0" width={width(now.committed)} height="9" fill="var(--pencil)" opacity="0.45" />
    </svg>
  );
}
