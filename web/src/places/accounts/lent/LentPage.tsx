import { useState } from "react";
import { useHousehold } from "@/shared/api/hooks";
import { AsCsv } from "@/shared/csv/AsCsv";
import { dayText, money } from "@/shared/format";
import { Alert } from "@/shared/kit/Alert";
import { BackLink } from "@/shared/kit/BackLink";
import { Button } from "@/shared/kit/Button";
import { PageLink } from "@/shared/kit/PageLink";
import { useToast } from "@/shared/kit/Toast";
import { useView } from "@/shared/view";
import { ReceiveForm } from "./ReceiveForm";
import { type LentRow, useLent, useLentTotals } from "./useLent";

/** Money lent: who owes what since when, what is late, and what came back. */
export function LentPage() {
  const { openSlip } = useView();
  const { data, error } = useLent();
  const open = data?.filter((row) => row.owed !== 0 || row.accrued !== 0) ?? [];
  const done = data?.filter((row) => row.owed === 0 && row.accrued === 0) ?? [];
  return (
    <div className="mx-auto max-w-4xl px-4 py-4 md:px-6">
      <BackLink to="/accounts" name="Accounts" />
      <div className="flex flex-wrap items-center gap-x-4">
        <h1 className="text-xl">Money lent</h1>
        <Button look="link" onClick={() => openSlip("account", null, "owed_to_us")}>
          Lend money
        </Button>
        {data && data.length > 0 && (
          <AsCsv
            name="money-lent"
            of="money lent"
            headings={["to", "since", "lent", "came back", "interest", "owed", "currency", "next"]}
            rows={() =>
              data.map(({ to, since, currency, next, ...row }) => [
                to,
                since,
                ...[row.lent, row.repaid, row.interest_earned, row.owed].map((amount) => ({ amount, currency })),
                currency,
                next?.date ?? null,
              ])
            }
          />
        )}
      </div>
      <Alert error={error} />
      {data && open.length === 0 && <p className="py-2">Nobody owes you anything.</p>}
      {data && data.length > 1 && <Sums />}
      <ul aria-label="Money lent" className="border-t border-rule-strong">
        {open.map((row) => (
          <Lent key={row.id} row={row} />
        ))}
      </ul>
      {done.length > 0 && (
        <section aria-label="Given back" className="mt-6">
          <h2 className="border-b border-rule text-base text-pencil">Given back</h2>
          <ul>
            {done.map((row) => (
              <li key={row.id} className="flex min-h-9 flex-wrap items-center gap-x-4 border-b border-rule">
                <PageLink to={`/accounts/${encodeURIComponent(row.id)}`}>{row.to}</PageLink>
                <span className="text-pencil">{past(row)}</span>
              </li>
            ))}
          </ul>
        </section>
      )}
    </div>
  );
}

/** All together, and whoever was lent to more than once. */
function Sums() {
  const totals = useLentTotals().data;
  if (!totals) return null;
  const several = totals.people.filter(({ loans }) => loans > 1);
  return (
    <ul aria-label="In all" className="pb-2">
      {[...several, { ...totals.all, to: "In all" }].map((sums) => (
        <li key={sums.to}>
          {sums.to}: <strong>{money(sums.owed + sums.accrued, totals.currency)}</strong> owed
          {sums.late > 0 && <span className="text-rust">, {money(sums.late, totals.currency)} late</span>};{" "}
          {money(sums.repaid, totals.currency)} came back
          {sums.interest_earned > 0 && ` with ${money(sums.interest_earned, totals.currency)} interest`}.
        </li>
      ))}
    </ul>
  );
}

const SURE = { counted: "", doubtful: "it may not come", left_out: "left out of every balance" };

function Lent({ row }: { row: LentRow }) {
  const today = useHousehold().data?.today;
  const { openSlip } = useView();
  const toast = useToast();
  const [isReceiving, setReceiving] = useState(false);
  const said = (amount: number) => money(amount, row.currency);
  const copy = async () => {
    await navigator.clipboard.writeText(row.reminder ?? "");
    toast("The reminder is copied.");
  };
  const owed = row.owed < 0 ? `${said(-row.owed)} is owed back` : `${said(row.owed + row.accrued)} owed`;
  return (
    <li className="border-b border-rule py-3">
      <div className="flex flex-wrap items-baseline gap-x-4">
        <h2 className="text-lg">{row.to}</h2>
        <span className="font-semibold">{owed}</span>
        {row.accrued > 0 && <span className="text-pencil">{said(row.accrued)} of it interest</span>}
        <span className="text-pencil">since {dayText(row.since, today)}</span>
        {SURE[row.sure] && <span className="pencilled">{SURE[row.sure]}</span>}
      </div>
      <p>
        {row.late && (
          <span className="font-semibold text-rust">
            {said(row.late.amount)} late since {dayText(row.late.since, today)}.{" "}
          </span>
        )}
        {row.next && (
          <>
            Next {said(row.next.amount)} on {dayText(row.next.date, today)}
            {row.ends && row.ends !== row.next.date && `, the last on ${dayText(row.ends, today)}`}.{" "}
          </>
        )}
        <span className="text-pencil">{past(row)}</span>
      </p>
      {row.reminder && <p className="mt-1 border-l-2 border-rule pl-3 text-sm text-pencil">{row.reminder}</p>}
      <div className="mt-1 flex flex-wrap gap-x-1">
        <Button
          look={isReceiving ? "plain" : "main"}
          className="!min-h-9"
          aria-expanded={isReceiving}
          aria-label={`Received from ${row.to}`}
          onClick={() => setReceiving(!isReceiving)}
        >
          Received
        </Button>
        {row.reminder && (
          <Button look="link" className="!min-h-9" aria-label={`Copy the reminder to ${row.to}`} onClick={copy}>
            Copy the reminder
          </Button>
        )}
        <Button
          look="link"
          className="!min-h-9"
          aria-label={`Change how it comes back from ${row.to}`}
          onClick={() => openSlip("account", row.id)}
        >
          Change
        </Button>
        <PageLink to={`/accounts/${encodeURIComponent(row.id)}`}>
          Register<span className="sr-only"> of {row.name}</span>
        </PageLink>
      </div>
      {isReceiving && <ReceiveForm row={row} onDone={() => setReceiving(false)} />}
    </li>
  );
}

/** What was lent, came back and earned, in words. */
function past(row: LentRow): string {
  const said = (amount: number) => money(amount, row.currency);
  const back = row.repaid > 0 ? `${said(row.repaid)} of ${said(row.lent)} came back` : `${said(row.lent)} was lent`;
  return `${back}${row.interest_earned > 0 ? `, with ${said(row.interest_earned)} interest` : ""}.`;
}
