import { useState } from "react";
import { api, type Schemas } from "@/shared/api/client";
import { useAct } from "@/shared/api/hooks";
import { dayText, digits, money } from "@/shared/format";
import { Button } from "@/shared/kit/Button";
import { type Statement, useKeptChecks } from "./statement";

const SHORT = 12;

interface Props {
  account: string;
  currency: string;
  onShow: (statement: Statement) => void;
}

/** The checks that were kept, and the payments: in pencil until a statement that agrees covers them. */
export function KeptChecks({ account, currency, onShow }: Props) {
  const data = useKeptChecks(account).data;
  const forget = useAct((day: string) =>
    api.delete("/api/loans/{account}/statement-checks/{day}", { params: { path: { account, day } } }),
  );
  if (!data) return null;
  return (
    <>
      {data.checks.length > 0 && (
        <section aria-label="Checks that were kept" className="mt-8 max-w-3xl">
          <h2 className="border-b border-rule-strong text-lg">Checks that were kept</h2>
          <ul>
            {data.checks.map((check) => (
              <li key={check.statement.date} className="flex flex-wrap items-center gap-x-4 border-b border-rule py-1">
                <span className="w-36">{dayText(check.statement.date, data.today)}</span>
                <span className="flex-1">
                  {check.statement.principal_balance != null &&
                    `${money(check.statement.principal_balance, currency)} owed; `}
                  {check.agrees ? "agrees" : <strong className="text-rust">{check.differs} now differ</strong>}
                </span>
                <Button look="link" onClick={() => onShow(check.statement)}>
                  Show
                </Button>
                <Button
                  look="link"
                  aria-label={`Delete the check of ${check.statement.date}`}
                  onClick={() => forget.mutate(check.statement.date)}
                >
                  Delete
                </Button>
              </li>
            ))}
          </ul>
        </section>
      )}
      <Payments data={data} currency={currency} />
    </>
  );
}

function Payments({ data, currency }: { data: Schemas["KeptChecks"]; currency: string }) {
  const [isLong, setLong] = useState(false);
  if (data.payments.length === 0) return null;
  const shown = isLong ? data.payments : data.payments.slice(0, SHORT);
  const hasEscrow = data.payments.some((onePayment) => onePayment.escrow !== 0);
  return (
    <section aria-label="Payments" className="mt-8 max-w-3xl">
      <h2 className="text-lg">Payments, as recorded</h2>
      <p className="text-sm text-pencil">
        {data.confirmed_until
          ? `Confirmed by a statement until ${dayText(data.confirmed_until, data.today)}; those after it are as proposed.`
          : "As proposed: a kept check of what is owed, in agreement, confirms all payments up to its date."}
      </p>
      <table className="w-full border-collapse text-right">
        <thead>
          <tr className="border-b border-rule-strong text-sm text-pencil [&>th]:py-1 [&>th]:font-normal">
            <th className="text-left">Paid on</th>
            <th>Payment</th>
            <th>Principal</th>
            <th>Interest</th>
            {hasEscrow && <th>Escrow</th>}
          </tr>
        </thead>
        <tbody>
          {shown.map((each) => (
            <tr key={each.entry} className={`border-b border-rule ${each.proposed ? "pencilled" : ""}`}>
              <td className="py-1 text-left">{dayText(each.date, data.today)}</td>
              <td>{digits(each.payment, currency)}</td>
              <td className={each.principal === 0 ? "text-rust" : ""}>{digits(each.principal, currency)}</td>
              <td>{digits(each.interest, currency)}</td>
              {hasEscrow && <td>{digits(each.escrow, currency)}</td>}
            </tr>
          ))}
        </tbody>
      </table>
      {data.payments.length > SHORT && (
        <Button look="link" aria-expanded={isLong} onClick={() => setLong(!isLong)}>
          {isLong ? "Only the newest" : `All ${data.payments.length} payments`}
        </Button>
      )}
    </section>
  );
}
