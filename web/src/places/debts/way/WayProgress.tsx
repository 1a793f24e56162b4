import { useMutation } from "@tanstack/react-query";
import { api } from "@/shared/api/client";
import { useRefresh } from "@/shared/api/hooks";
import { dayText, money, monthOf, monthsText } from "@/shared/format";
import { Button } from "@/shared/kit/Button";
import { ShareBar } from "@/shared/kit/ShareBar";
import { useToast } from "@/shared/kit/Toast";
import type { Progress } from "./wayOut";

const isBegun = (progress: Progress, today: string): boolean => progress.start <= today.slice(0, 7);

/** How the plan goes, in a sentence. */
export function HowItGoes({ progress, today }: { progress: Progress; today: string }) {
  const { ahead, currency, months_later: later, debt_free: ends } = progress;
  const wording =
    ahead === 0 ? "as planned so far" : `${money(Math.abs(ahead), currency)} ${ahead > 0 ? "ahead" : "behind"}`;
  return (
    <>
      <strong className={ahead < 0 ? "text-rust" : ""}>
        {isBegun(progress, today) || ahead !== 0 ? wording : `begins in ${monthOf(progress.start)}`}
      </strong>
      {ends ? (
        <>
          ; debt-free in <strong>{monthOf(ends)}</strong>
          {later !== null &&
            later !== 0 &&
            `, ${monthsText(Math.abs(later))} ${later > 0 ? "later" : "sooner"} than planned`}
        </>
      ) : (
        "; as things stand, never debt-free"
      )}
    </>
  );
}

/** The plan that was adopted: ahead or behind, what is paid back, debt by debt. */
export function WayProgress({ progress, today }: { progress: Progress; today: string }) {
  const { currency } = progress;
  return (
    <section aria-label="How the plan goes" className="mt-2 border-y border-rule py-3">
      <div className="flex flex-wrap items-baseline gap-x-4">
        <p className="text-lg" data-testid="progress">
          Your plan of {dayText(progress.on, today)}: <HowItGoes progress={progress} today={today} />.
        </p>
        <Drop />
        <a
          href="/print/debt-years"
          target="_blank"
          rel="noreferrer"
          className="inline-flex min-h-10 items-center rounded-sm px-2 text-copper hover:bg-hover"
        >
          Years on record
        </a>
      </div>
      <p className="mt-1 flex items-center gap-3">
        <ShareBar percent={progress.percent} className="w-64" isMarked />
        <span>{progress.percent}% of everything paid back</span>
      </p>
      <table className="mt-2 w-full border-collapse text-right">
        <thead>
          <tr className="text-sm text-pencil [&>th]:py-1 [&>th]:font-normal">
            <th className="text-left">Debt</th>
            <th>Paid since</th>
            <th className="hidden @2xl:table-cell">Planned by now</th>
            <th>Owed</th>
            <th className="hidden @2xl:table-cell">Planned to owe</th>
            <th className="hidden pl-4 @2xl:table-cell">Paid back</th>
          </tr>
        </thead>
        <tbody>
          {progress.debts.map((debt) => (
            <tr key={debt.id} className="border-t border-rule">
              <th scope="row" className="py-1 text-left font-normal">
                {debt.name}
              </th>
              <td className={debt.paid < debt.planned ? "text-rust" : ""}>{money(debt.paid, currency)}</td>
              <td className="hidden @2xl:table-cell pencilled">
                {isBegun(progress, today) ? money(debt.planned, currency) : "–"}
              </td>
              <td>{money(debt.owed, currency)}</td>
              <td className="hidden @2xl:table-cell pencilled">
                {isBegun(progress, today) ? money(debt.expected, currency) : "–"}
              </td>
              <td className="hidden pl-4 @2xl:table-cell">
                <span className="flex items-center justify-end gap-2">
                  <ShareBar percent={debt.percent} className="w-28" isMarked />
                  <span className="w-10">{debt.percent}%</span>
                </span>
              </td>
            </tr>
          ))}
        </tbody>
      </table>
    </section>
  );
}

function Drop() {
  const refresh = useRefresh();
  const toast = useToast();
  const drop = useMutation({
    mutationFn: () => api.delete("/api/payoff/adopt"),
    onSuccess: () => {
      toast("The plan is dropped from today on. Undo takes that back.");
      void refresh();
    },
    onError: (error) => toast(error.message),
  });
  return (
    <Button look="link" disabled={drop.isPending} onClick={() => drop.mutate()}>
      Drop the plan
    </Button>
  );
}
