import { keepPreviousData, useQuery } from "@tanstack/react-query";
import { answer, api, type Schemas } from "@/shared/api/client";
import { useChosenAccounts } from "@/shared/api/hooks";
import { dayText, money } from "@/shared/format";

type LeftAnswer = Schemas["LeftAnswer"];

/** What this month and the running payday's stretch leave, and the bills of the coming weeks, in one line. */
export function LeftLine() {
  const accounts = useChosenAccounts();
  const { data } = useQuery({
    queryKey: ["left", accounts],
    placeholderData: keepPreviousData,
    // Accounts of several currencies have no one sum: the line is not there.
    retry: false,
    queryFn: ({ signal }) =>
      answer<LeftAnswer>(api.GET("/api/ahead/left", { params: { query: { accounts } }, signal })),
  });
  if (!data) return null;
  const { month, payday, bills, currency } = data;
  return (
    <p data-testid="left" title={`${data.accounts.join(", ")}: what comes in less what goes out or is put by`}>
      <span className="text-pencil">Left this month </span>
      <Amount amount={month.left} currency={currency} />
      {payday && (
        <>
          <span className="text-pencil">
            , from {dayText(payday.from, data.today)} until {payday.until}{" "}
          </span>
          <Amount amount={payday.left} currency={currency} />
        </>
      )}
      <span className="text-pencil">. Bills </span>
      {bills.map((span, place) => (
        <span key={span.days}>
          {place > 0 && <span className="text-pencil">, </span>}
          <span className="whitespace-nowrap">{money(span.amount, currency)}</span>
          <span className="text-pencil"> in {span.days} days</span>
        </span>
      ))}
      <span className="text-pencil">.</span>
    </p>
  );
}

function Amount({ amount, currency }: { amount: number; currency: string }) {
  return (
    <span className={`font-semibold whitespace-nowrap ${amount < 0 ? "text-rust" : ""}`}>
      {money(amount, currency)}
    </span>
  );
}
