import { type Schemas, server } from "@/shared/api/client";
import { dayText, money } from "@/shared/format";

/** Bills due in the coming weeks, and what each payday has to last for. */
export function Paydays({ account }: { account: string }) {
  const { data } = server.useQuery("get", "/api/ahead/paydays", { params: { query: { account } } });
  if (!data) return null;
  return (
    <div className="border-l-2 border-copper pl-3">
      <p>
        Bills from {data.name}:{" "}
        {data.bills.map((bill, place) => (
          <span key={bill.days}>
            {place > 0 && ", "}
            <strong>{money(bill.amount, data.currency)}</strong> in the next {bill.days} days ({bill.count})
          </span>
        ))}
        .
      </p>
      <Periods data={data} />
    </div>
  );
}

function Periods({ data }: { data: Schemas["PayPeriodsAnswer"] }) {
  if (data.periods.length === 0) return null;
  return (
    <table aria-label="Payday to payday" className="mt-1 w-full max-w-4xl border-collapse text-right">
      <thead>
        <tr className="border-b border-rule-strong text-sm text-pencil [&>th]:py-1 [&>th]:font-normal">
          <th className="text-left">Payday</th>
          <th className="hidden text-left @2xl:table-cell">From</th>
          <th>Comes in</th>
          <th>Goes out until the next</th>
          <th>Left then</th>
        </tr>
      </thead>
      <tbody>
        {data.periods.map((period) => (
          <tr key={period.from} className="border-b border-rule pencilled">
            <td className="py-0.5 text-left">{dayText(period.from, data.today)}</td>
            <td className="hidden max-w-56 truncate text-left @2xl:table-cell">{period.name}</td>
            <td className="text-teal">+{money(period.amount, data.currency)}</td>
            <td>{money(period.to_pay, data.currency)}</td>
            <td className={period.left < 0 ? "text-rust" : ""}>{money(period.left, data.currency)}</td>
          </tr>
        ))}
      </tbody>
    </table>
  );
}
