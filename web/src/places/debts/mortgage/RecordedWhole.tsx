import { Link } from "react-router";
import { type Schemas, server } from "@/shared/api/client";
import { useHousehold, useSave } from "@/shared/api/hooks";
import { dayText, digits, money } from "@/shared/format";
import { BackLink } from "@/shared/kit/BackLink";
import { Button } from "@/shared/kit/Button";
import { useToast } from "@/shared/kit/Toast";
import { keptSearch, useView } from "@/shared/view";

type Answer = Schemas["WholeAnswer"];

export const useRecordedWhole = () => server.useQuery("get", "/api/review/recorded-whole");

/** A word on loan payments that were recorded as spending, where there are any. */
export function WholeNotice() {
  const { search } = useView();
  const payments = useRecordedWhole().data?.loans.flatMap((loan) => loan.found) ?? [];
  if (payments.length === 0) return null;
  return (
    <p className="mt-1 border-l-2 border-copper pl-3">
      {payments.length === 1 ? "One loan payment is" : `${payments.length} loan payments are`} recorded whole, as
      spending.{" "}
      <Link
        to={{ pathname: "/debts/whole", search: keptSearch(search) }}
        className="text-copper underline underline-offset-4"
      >
        See what that does
      </Link>
    </p>
  );
}

/** Every loan payment recorded as one expense, what that does to the figures, and the way to split them all. */
export function RecordedWhole() {
  const { data, error } = useRecordedWhole();
  const today = useHousehold().data?.today;
  const save = useSave();
  const toast = useToast();
  if (error) return <p role="alert">{error.message}</p>;
  if (!data) return null;
  const split = (changes: Schemas["ChangeRequest"][]) =>
    save.mutate(changes, {
      onSuccess: () => toast("Split as the schedule has it. Undo takes it back."),
      onError: (problem) => toast(problem.message),
    });
  return (
    <div className="mx-auto max-w-6xl px-4 py-4 md:px-6">
      <BackLink to="/debts" name="Debts" />
      <h1 className="text-xl">Recorded whole</h1>
      {data.loans.length === 0 ? (
        <p className="py-4 text-lg">
          No loan payment is recorded as one expense: each is split into what it is made of.
        </p>
      ) : (
        <>
          <p className="mt-1">
            A loan payment is debt repaid, interest spent and money put into escrow. Recorded as one expense, spending
            looks larger than it is, and the debt never falls.
          </p>
          <TwoWays data={data} />
          {data.loans.map((loan) => (
            <section key={loan.loan} aria-label={loan.name} className="mt-6">
              <div className="flex flex-wrap items-center gap-x-4 border-b border-rule-strong pb-1">
                <h2 className="text-lg">{loan.name}</h2>
                <Button look="main" className="!min-h-9" disabled={save.isPending} onClick={() => split(loan.changes)}>
                  {loan.found.length === 1 ? "Split it" : `Split all ${loan.found.length}`}
                </Button>
              </div>
              <Found loan={loan} today={today} />
            </section>
          ))}
        </>
      )}
    </div>
  );
}

/** Each figure as recorded, and as it should be. */
function TwoWays({ data }: { data: Answer }) {
  const rows: [string, Schemas["TwoWays"], string][] = [
    ...data.years.map((year): [string, Schemas["TwoWays"], string] => [
      `Spent in ${year.year}`,
      year.spending,
      data.currency,
    ]),
    ...data.loans.map((loan): [string, Schemas["TwoWays"], string] => [`Owed, ${loan.name}`, loan.owed, loan.currency]),
    ...data.loans.flatMap((loan): [string, Schemas["TwoWays"], string][] =>
      loan.escrow ? [[`In escrow, ${loan.name}`, loan.escrow, loan.currency]] : [],
    ),
    ...(data.net_worth
      ? [["Owned less owed", data.net_worth, data.currency] as [string, Schemas["TwoWays"], string]]
      : []),
  ];
  return (
    <table className="mt-3 w-full max-w-3xl border-collapse text-right">
      <thead>
        <tr className="border-b border-rule-strong text-sm text-pencil [&>th]:py-1 [&>th]:font-normal">
          <th className="text-left">Figure</th>
          <th>As recorded</th>
          <th>As it should be</th>
        </tr>
      </thead>
      <tbody>
        {rows.map(([name, ways, currency]) => (
          <tr key={name} className="border-b border-rule">
            <td className="py-1 text-left">{name}</td>
            <td>{money(ways.recorded, currency)}</td>
            <td className={ways.right !== ways.recorded ? "font-semibold text-copper" : ""}>
              {money(ways.right, currency)}
            </td>
          </tr>
        ))}
      </tbody>
    </table>
  );
}

function Found({ loan, today }: { loan: Answer["loans"][number]; today: string | undefined }) {
  const { openSlip } = useView();
  return (
    <table className="w-full border-collapse text-right">
      <thead>
        <tr className="text-sm text-pencil [&>th]:py-1 [&>th]:font-normal">
          <th className="text-left">Paid on</th>
          <th className="hidden text-left @2xl:table-cell">Booked to</th>
          <th>Paid</th>
          <th>Principal</th>
          <th>Interest</th>
          <th>Escrow</th>
        </tr>
      </thead>
      <tbody>
        {loan.found.map((payment) => (
          <tr key={payment.entry} className="border-t border-rule">
            <td className="py-1 text-left">
              <button
                type="button"
                onClick={() => openSlip("entry", payment.entry)}
                className="text-copper underline underline-offset-4"
              >
                {dayText(payment.date, today)}
              </button>
            </td>
            <td className="hidden text-left @2xl:table-cell">{payment.category || "moved to the loan"}</td>
            <td>{digits(payment.amount, loan.currency)}</td>
            <td className="text-copper">{digits(payment.split.principal, loan.currency)}</td>
            <td className="text-copper">{digits(payment.split.interest, loan.currency)}</td>
            <td className="text-copper">{digits(payment.split.escrow, loan.currency)}</td>
          </tr>
        ))}
      </tbody>
    </table>
  );
}
