import { useState } from "react";
import { useHousehold } from "@/shared/api/hooks";
import { AsCsv } from "@/shared/csv/AsCsv";
import { counted, dayText, rateText } from "@/shared/format";
import { Alert } from "@/shared/kit/Alert";
import { BackLink } from "@/shared/kit/BackLink";
import { Button } from "@/shared/kit/Button";
import { useView } from "@/shared/view";
import { useRates } from "./useRates";

const AT_FIRST = 30;

/** What other currencies are worth, day by day as it was typed. */
export function RatesPage() {
  const today = useHousehold().data?.today ?? "";
  const { openSlip } = useView();
  const { data, error } = useRates();
  const [isWhole, setWhole] = useState(false);
  return (
    <div className="mx-auto max-w-3xl px-4 py-4 md:px-6">
      <BackLink to="/accounts" name="Accounts" />
      <div className="flex flex-wrap items-center gap-x-4">
        <h1 className="text-xl">Exchange rates</h1>
        <Button look="link" onClick={() => openSlip("rate", null)}>
          Add a rate
        </Button>
        {data && data.rates.length > 0 && (
          <AsCsv
            name="exchange-rates"
            of="exchange rates"
            headings={["date", "from", "to", "rate"]}
            rows={() => data.rates.map(({ date, from, to, rate }) => [date, from, to, String(rate)])}
          />
        )}
      </div>
      <Alert error={error} />
      {data?.pairs.map((pair) =>
        pair.rate === null ? (
          <p key={pair.source} className="flex flex-wrap items-center gap-x-3 text-rust">
            There is no rate from {pair.source} to {pair.target}: totals need one.
            <Button
              className="!min-h-9"
              onClick={() => openSlip("rate", null, `${today}~${pair.source}~${pair.target}`)}
            >
              Type it
            </Button>
          </p>
        ) : (
          <p key={pair.source}>
            {pair.rate} since {dayText(pair.since ?? "", today)}.
          </p>
        ),
      )}
      {data?.rates.length === 0 && (
        <p className="text-pencil">
          None yet. A rate holds from its day on, until the next; before the first, the first.
        </p>
      )}
      {data && (
        <ul aria-label="Exchange rates" className="mt-2 border-t border-rule-strong">
          {data.rates.slice(0, isWhole ? undefined : AT_FIRST).map((rate) => (
            <li key={rate.id} className="border-b border-rule">
              <button
                type="button"
                className="flex min-h-9 w-full items-center gap-x-4 text-left hover:bg-hover"
                onClick={() => openSlip("rate", rate.id)}
              >
                <span className="w-32 text-pencil">{dayText(rate.date, today)}</span>
                <span>
                  1 {rate.from} = {rateText(rate.rate)} {rate.to}
                </span>
              </button>
            </li>
          ))}
        </ul>
      )}
      {data && data.rates.length > AT_FIRST && !isWhole && (
        <Button look="link" onClick={() => setWhole(true)}>
          All {counted(data.rates.length)}
        </Button>
      )}
    </div>
  );
}
