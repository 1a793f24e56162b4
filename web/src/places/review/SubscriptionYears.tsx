import { useSubscriptions } from "@/places/flows/Subscriptions";
import type { Schemas } from "@/shared/api/client";
import { dayText, inDays, money } from "@/shared/format";
import { Alert } from "@/shared/kit/Alert";
import { BackLink } from "@/shared/kit/BackLink";
import { PageLink } from "@/shared/kit/PageLink";
import { useView } from "@/shared/view";

type Answer = Schemas["SubscriptionsAnswer"];
type Row = Schemas["SubscriptionRow"];

const STANDS = { overdue: "overdue", running: "", ended: "ended" } as const;

/** What each subscription has cost since it began, what it costs, when it renews and how its price changed. */
export function SubscriptionYears() {
  const { data, error } = useSubscriptions();
  return (
    <div className="mx-auto max-w-5xl px-4 py-4 md:px-6">
      <BackLink to="/review" name="Review" />
      <h1 className="text-xl">Subscriptions</h1>
      <Alert error={error} />
      {data?.subscriptions.length === 0 && (
        <p className="mt-2 text-pencil">
          No flow is marked as a subscription yet: the mark is in a bill's slip. <PageLink to="/flows">Flows</PageLink>
        </p>
      )}
      {data && data.subscriptions.length > 0 && <List data={data} />}
    </div>
  );
}

function List({ data }: { data: Answer }) {
  const { currency, monthly, yearly } = data;
  return (
    <>
      <p className="mb-2">
        {monthly === null || yearly === null ? (
          data.notes[0]
        ) : (
          <>
            They cost <strong>{money(monthly, currency)}</strong> a month, {money(yearly, currency)} a year.
          </>
        )}
      </p>
      <ul>
        {data.subscriptions.map((row) => (
          <Subscription key={row.flow} row={row} today={data.today} />
        ))}
      </ul>
    </>
  );
}

function Subscription({ row, today }: { row: Row; today: string }) {
  const { openSlip } = useView();
  const figures: [string, string][] = [
    ["Since it began", money(row.paid_so_far, row.currency)],
    ["In the last 12 months", money(row.lately, row.currency)],
    ["A month", money(row.monthly, row.currency)],
    ["A year", money(row.yearly, row.currency)],
  ];
  return (
    <li className="border-t border-rule py-2">
      <div className="flex flex-wrap items-baseline gap-x-3">
        <button
          type="button"
          className="min-h-8 text-left font-semibold hover:underline"
          onClick={() => openSlip("flow", row.flow)}
        >
          {row.name}
        </button>
        {STANDS[row.stands] && <span className="text-sm text-rust">{STANDS[row.stands]}</span>}
        <span className="ml-auto text-sm text-pencil">{renewal(row, today)}</span>
      </div>
      <dl className="grid grid-cols-2 gap-x-6 sm:grid-cols-4">
        {figures.map(([name, sum]) => (
          <div key={name}>
            <dt className="text-sm text-pencil">{name}</dt>
            <dd>{sum}</dd>
          </div>
        ))}
      </dl>
      <p className="text-sm text-pencil">{paid(row, today)}</p>
      {row.changes.length > 0 && (
        <ul aria-label={`Price changes of ${row.name}`} className="text-sm">
          {row.changes.map((change) => (
            <li key={change.date} className={change.after > change.before ? "text-rust" : ""}>
              {dayText(change.date, today)}: {change.after > change.before ? "rose" : "fell"} from{" "}
              {money(change.before, row.currency)} to {money(change.after, row.currency)}
            </li>
          ))}
        </ul>
      )}
    </li>
  );
}

/** When it is paid next, and in how many days. */
function renewal({ next, days_until }: Row, today: string): string {
  if (!next || days_until === null) return "Nothing more is due.";
  return `Renews ${inDays(days_until)}, on ${dayText(next.date, today)}`;
}

/** How often it was paid, from when to when. */
function paid({ payments, first_paid, last_paid }: Row, today: string): string {
  const last = last_paid ? `last on ${dayText(last_paid, today)}` : "";
  if (!first_paid) return last ? `Nothing recorded yet; ${last}.` : "Nothing recorded yet.";
  if (payments === 1) return `Paid once, on ${dayText(first_paid, today)}.`;
  return `Paid ${payments} times since ${dayText(first_paid, today)}, ${last}.`;
}
