import { keepPreviousData } from "@tanstack/react-query";
import { Lenses } from "@/places/ahead/Lenses";
import { type Schemas, server } from "@/shared/api/client";
import { digits, money, monthOf } from "@/shared/format";
import { Alert } from "@/shared/kit/Alert";
import { Wide } from "@/shared/kit/Wide";
import { useView } from "@/shared/view";
import { WorthPicture } from "./WorthPicture";

type Worth = Schemas["NetWorthAnswer"];

const KINDS: Record<string, string> = {
  checking: "Checking",
  savings: "Savings",
  cash: "Cash",
  escrow: "Escrow",
  owed_to_us: "Owed to us",
  asset: "What you own",
  credit_card: "Cards",
  credit_line: "Credit lines",
  loan: "Loans",
};

/** What is owned less what is owed, from the first account to five years ahead or over days picked, by kind. */
export function NetWorth() {
  const { period } = useView();
  const days = period ? { from: period.from, to: period.until } : {};
  const { data, error } = server.useQuery(
    "get",
    "/api/net-worth",
    { params: { query: days } },
    { placeholderData: keepPreviousData },
  );
  return (
    <div className="mx-auto max-w-6xl px-4 py-4 md:px-6">
      <Lenses />
      <h1 className="sr-only">Net worth</h1>
      <Alert error={error} />
      {data && data.kinds.length === 0 && <p className="text-pencil">There is no account yet.</p>}
      {data && data.kinds.length > 0 && (
        <>
          <WorthPicture worth={data} />
          <Kinds worth={data} />
          <p className="mt-2 text-sm text-pencil">
            {data.revaluation != null &&
              `Exchange rates alone ${data.revaluation < 0 ? "took away" : "added"} ${money(Math.abs(data.revaluation), data.currency)} by today. `}
            {data.expected_today !== 0 &&
              `Today is as recorded; what is still expected today would change it by ${money(data.expected_today, data.currency)}. `}
            Other days are ends of months; pick days on the tideline to look at them closer.
          </p>
        </>
      )}
    </div>
  );
}

/** Kinds by row, ends of months by column. */
function Kinds({ worth }: { worth: Worth }) {
  const shown = columns(worth.days, worth.today);
  const order = Object.keys(KINDS);
  const kinds = [...worth.kinds].sort((a, b) => order.indexOf(a.kind) - order.indexOf(b.kind));
  const slant = (place: number) => ((worth.days[place] ?? "") > worth.today ? "pencilled" : "");
  return (
    <Wide label="Net worth by kind, scrolled sideways">
      <table aria-label="Net worth by kind" className="w-full border-collapse text-right">
        <thead>
          <tr className="border-b border-rule-strong text-sm text-pencil [&>th]:font-normal">
            <th className="sticky left-0 bg-paper pr-3 text-left">Kind</th>
            {shown.map((place) => (
              <th key={place} className={`px-2 whitespace-nowrap ${slant(place)}`}>
                {worth.days[place] === worth.today ? "Today" : monthOf(worth.days[place] ?? "")}
              </th>
            ))}
          </tr>
        </thead>
        <tbody>
          {kinds.map((kind) => (
            <tr key={kind.kind} className="border-b border-rule">
              <th scope="row" className="sticky left-0 bg-paper py-1 pr-3 text-left font-normal whitespace-nowrap">
                {KINDS[kind.kind]}
              </th>
              {shown.map((place) => (
                <td key={place} className={`px-2 ${slant(place)}`}>
                  {digits(kind.balances[place] ?? 0, worth.currency)}
                </td>
              ))}
            </tr>
          ))}
        </tbody>
        <tfoot>
          <tr className="border-t border-rule-strong font-semibold">
            <th scope="row" className="sticky left-0 bg-paper py-1 pr-3 text-left">
              Net worth
            </th>
            {shown.map((place) => (
              <td key={place} className={`px-2 ${slant(place)}`}>
                {digits(worth.together[place] ?? 0, worth.currency)}
              </td>
            ))}
          </tr>
        </tfoot>
      </table>
    </Wide>
  );
}

const MOST_COLUMNS = 13;

/** The places of every end of a month, quarter, half-year or year, whichever there is room for, of today and the last. */
function columns(days: string[], today: string): number[] {
  const at = (step: number) =>
    days.flatMap((day, place) =>
      Number(day.slice(5, 7)) % step === 0 || day === today || place === days.length - 1 ? [place] : [],
    );
  return [1, 3, 6].map(at).find((places) => places.length <= MOST_COLUMNS) ?? at(12);
}
