import { useQuery } from "@tanstack/react-query";
import { useSearchParams } from "react-router";
import { api, type Schemas } from "@/shared/api/client";
import { useHousehold } from "@/shared/api/hooks";
import { dayText, digits, money, monthOf, setWriting } from "@/shared/format";
import { Wide } from "@/shared/kit/Wide";
import { PaperHeading, useOnPaper } from "@/shared/look/paper";
import { feesText, scheduleColumns } from "./scheduleColumns";

interface Sheet {
  name: string;
  currency: string;
  answer: Schemas["LoanScheduleAnswer"];
}

/** A schedule on paper: every payment, years with their sums, no frame around it. */
export function PrintLoan() {
  const [search] = useSearchParams();
  const household = useHousehold().data;
  const [account, loan] = [search.get("account"), search.get("loan")];
  const { data, error } = useQuery({
    queryKey: ["print", account, loan, household?.household.currency],
    enabled: household !== undefined,
    retry: false,
    queryFn: () => read(account, loan, household?.household.currency ?? "USD"),
  });
  useOnPaper();
  if (error) return <p className="p-6">{error.message}</p>;
  if (!household || !data) return null;
  setWriting(household);
  return <Paper sheet={data} />;
}

async function read(account: string | null, loan: string | null, currency: string): Promise<Sheet> {
  if (account) {
    const page = await api.get("/api/debts/{id}", { params: { path: { id: account } } });
    return { name: page.account.name, currency: page.currency, answer: page };
  }
  const body = JSON.parse(loan ?? "null") as Schemas["Loan"];
  const schedule = await api.post("/api/tools/loan-schedule", { body });
  return { name: "A loan", currency, answer: schedule };
}

function Paper({ sheet: { name, currency, answer: schedule } }: { sheet: Sheet }) {
  const columns = scheduleColumns(schedule);
  return (
    <main className="mx-auto max-w-5xl p-6 print:p-0">
      <PaperHeading title={`${name}: amortization schedule`} />
      <p className="mb-3">
        {money(schedule.payment, currency)} a payment; {money(schedule.totals.interest, currency)} interest in all; paid
        off in {monthOf(schedule.paid_off)}.
      </p>
      <Wide label="The schedule, scrolled sideways" className="print:overflow-visible">
        <table className="w-full border-collapse text-right text-sm [&_td+td]:pl-3 [&_th+th]:pl-3">
          <thead className="table-header-group">
            <tr className="border-b border-rule-strong [&>th]:py-1 [&>th]:font-semibold">
              <th className="text-left">No.</th>
              <th className="text-left">Due</th>
              {columns.map(({ name, label }) => (
                <th key={name}>{label}</th>
              ))}
            </tr>
          </thead>
          <tbody>
            {schedule.paid_out && (
              <tr className="border-rule border-b">
                <td className="text-left">0</td>
                <td className="text-left whitespace-nowrap">{dayText(schedule.paid_out.on, "0")}</td>
                <td className="text-left" colSpan={columns.length - 1}>
                  paid out{schedule.paid_out.fees > 0 && `, ${feesText(schedule.paid_out, currency)}`}
                </td>
                <td>{digits(schedule.paid_out.owed, currency)}</td>
              </tr>
            )}
            {schedule.rows.map((row) => (
              <tr key={row.number} className="break-inside-avoid border-b border-rule">
                <td className="text-left">{row.number}</td>
                <td className="text-left whitespace-nowrap">{dayText(row.due, "0")}</td>
                {columns.map(({ name, ofRow }) => (
                  <td key={name}>{digits(ofRow(row, row.number), currency)}</td>
                ))}
              </tr>
            ))}
          </tbody>
          <tfoot className="table-row-group">
            <tr className="border-rule-strong border-t-2 font-semibold">
              <td className="text-left" colSpan={2}>
                In all, {schedule.rows.length}
              </td>
              {columns.map(({ name, inAll }) => (
                <td key={name}>{inAll === undefined ? "" : digits(inAll, currency)}</td>
              ))}
            </tr>
          </tfoot>
        </table>
      </Wide>
    </main>
  );
}
