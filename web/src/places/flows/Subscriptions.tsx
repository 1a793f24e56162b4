import { type Schemas, server } from "@/shared/api/client";
import { AsCsv } from "@/shared/csv/AsCsv";
import { dayText, inDays, money } from "@/shared/format";
import { useView } from "@/shared/view";

type Row = Schemas["SubscriptionRow"];

export const useSubscriptions = () => server.useQuery("get", "/api/subscriptions");

/** Flows marked as subscriptions: what they cost, have cost so far, renew when, and whether they got dearer. */
export function Subscriptions() {
  const data = useSubscriptions().data;
  if (!data || data.subscriptions.length === 0) return null;
  const { currency, monthly, yearly } = data;
  return (
    <section aria-label="Subscriptions" className="mb-7">
      <div className="flex flex-wrap items-baseline gap-x-4 border-b border-rule-strong">
        <h2 className="text-lg">Subscriptions</h2>
        <p className="ml-auto text-sm text-pencil">
          {monthly === null || yearly === null ? (
            data.notes[0]
          ) : (
            <>
              <strong className="text-base text-ink">{money(monthly, currency)}</strong> a month,{" "}
              {money(yearly, currency)} a year
            </>
          )}
        </p>
      </div>
      <AsCsv
        name="subscriptions"
        of="subscriptions"
        headings={["name", "stands", "a month", "in a year", "paid so far", "times", "next", "currency"]}
        rows={() =>
          data.subscriptions.map((row) => [
            row.name,
            row.stands,
            { amount: row.monthly, currency: row.currency },
            { amount: row.yearly, currency: row.currency },
            { amount: row.paid_so_far, currency: row.currency },
            String(row.payments),
            row.next?.date ?? null,
            row.currency,
          ])
        }
      />
      {GROUPS.map(({ group, name }) => (
        <Group
          key={group}
          name={name}
          rows={data.subscriptions.filter((row) => row.stands === group)}
          today={data.today}
        />
      ))}
    </section>
  );
}

const GROUPS = [
  { group: "overdue", name: "Overdue" },
  { group: "running", name: "" },
  { group: "ended", name: "Ended" },
] as const;

function Group({ name, rows, today }: { name: string; rows: Row[]; today: string }) {
  if (rows.length === 0) return null;
  return (
    <>
      {name && <h3 className="mt-2 font-sans text-sm text-pencil">{name}</h3>}
      <ul aria-label={name || "Running"}>
        {rows.map((row) => (
          <Line key={row.flow} row={row} today={today} />
        ))}
      </ul>
    </>
  );
}

function Line({ row, today }: { row: Row; today: string }) {
  const { openSlip } = useView();
  const rise = row.rises.at(-1);
  return (
    <li className="border-b border-rule">
      <button
        type="button"
        onClick={() => openSlip("flow", row.flow)}
        className="grid w-full grid-cols-[minmax(0,1fr)_auto] items-baseline gap-x-6 py-1.5 text-left hover:bg-hover @2xl:grid-cols-[minmax(0,1fr)_12rem_12rem]"
      >
        <span className="min-w-0">
          <span className="font-semibold">{row.name}</span>
          <span className="block text-sm text-pencil">
            {money(row.paid_so_far, row.currency)} paid so far, {row.payments === 1 ? "once" : `${row.payments} times`}
            {row.last_paid && `, last on ${dayText(row.last_paid, today)}`}
            {rise && (
              <span className="text-rust">
                ; rose from {money(rise.before, row.currency)} to {money(rise.after, row.currency)} on{" "}
                {dayText(rise.date, today)}
              </span>
            )}
          </span>
        </span>
        <span className="text-right">
          {money(row.monthly, row.currency)} a month
          <span className="block text-sm text-pencil">{money(row.yearly, row.currency)} a year</span>
        </span>
        <span className="hidden text-right @2xl:block">{row.next ? <Renewal row={row} today={today} /> : "ended"}</span>
      </button>
    </li>
  );
}

function Renewal({ row, today }: { row: Row; today: string }) {
  return (
    <span className="pencilled">
      {row.next && dayText(row.next.date, today)}
      <span className="block text-sm">{inDays(row.days_until ?? 0)}</span>
    </span>
  );
}
