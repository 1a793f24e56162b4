import { keepPreviousData } from "@tanstack/react-query";
import { type Schemas, server } from "@/shared/api/client";
import { useChosenAccounts } from "@/shared/api/hooks";
import { dayText, howMany, money } from "@/shared/format";

/** What is left. Accounts of several currencies have no one sum: that is refused, and the line is not there. */
export function useLeft() {
  const accounts = useChosenAccounts();
  const query = { params: { query: { accounts } } };
  return server.useQuery("get", "/api/ahead/left", query, { placeholderData: keepPreviousData, retry: false });
}

/** What this month and the running payday's stretch leave, and the bills of the coming weeks, in one line. */
export function LeftLine() {
  const { data } = useLeft();
  if (!data) return null;
  const { month, payday, bills, currency } = data;
  return (
    <p data-testid="left" title={`${data.accounts.join(", ")}: what comes in less what goes out or is put by`}>
      <Left of="This month" part={month} currency={currency} />
      {payday && (
        <>
          <span className="text-pencil">; </span>
          <Left
            of={`from ${dayText(payday.from, data.today)} until ${payday.until}`}
            part={payday}
            currency={currency}
          />
        </>
      )}
      <span className="text-pencil">. Bills </span>
      {bills.map((span, place) => (
        <span key={span.days}>
          {place > 0 && <span className="text-pencil">, </span>}
          <span className="whitespace-nowrap">{money(span.amount, currency)}</span>
          <span className="text-pencil"> in {howMany(span.days, "day")}</span>
        </span>
      ))}
      <span className="text-pencil">.</span>
    </p>
  );
}

interface LeftProps {
  of: string;
  part: Schemas["LeftModel"];
  currency: string;
}

/** What a stretch leaves, or by how much more goes out in it than comes in. */
function Left({ of, part, currency }: LeftProps) {
  const isShort = part.left < 0;
  return (
    <>
      <span className="text-pencil">{of} </span>
      <span className={`font-semibold whitespace-nowrap ${isShort ? "text-rust" : ""}`}>
        {money(Math.abs(part.left), currency)}
      </span>
      <span className="text-pencil">{isShort ? " more goes out than comes in" : " left"}</span>
    </>
  );
}
