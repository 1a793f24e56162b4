import { keepPreviousData, useQuery } from "@tanstack/react-query";
import { Lenses } from "@/places/ahead/Lenses";
import { answer, api, type Schemas } from "@/shared/api/client";
import { digits, monthOf } from "@/shared/format";
import { useWaters } from "@/shared/look/waters";
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

/** What is owned less what is owed over the days of the tideline, by kind of account. */
export function NetWorth() {
  const { period } = useView();
  const waters = useWaters();
  const first = period?.from ?? waters.from;
  const last = period?.until ?? waters.until;
  const { data, error } = useQuery({
    queryKey: ["net-worth", first, last],
    placeholderData: keepPreviousData,
    enabled: first !== "",
    queryFn: ({ signal }) =>
      answer<Worth>(api.GET("/api/net-worth", { params: { query: { from: first, to: last } }, signal })),
  });
  return (
    <div className="mx-auto max-w-6xl px-4 py-4 md:px-6">
      <Lenses />
      <h1 className="sr-only">Net worth</h1>
      {error && <p role="alert">{error.message}</p>}
      {data && data.kinds.length === 0 && <p className="text-pencil">There is no account yet.</p>}
      {data && data.kinds.length > 0 && (
        <>
          <WorthPicture worth={data} />
          <Kinds worth={data} />
          <p className="mt-2 text-sm text-pencil">
            At the ends of months; choose more years at the tideline to look further.
          </p>
        </>
      )}
    </div>
  );
}

const MOST_COLUMNS = 7;

/** Kinds by row, some of the days by column. */
function Kinds({ worth }: { worth: Worth }) {
  const shown = evenly(worth.days.length, MOST_COLUMNS, worth.days.indexOf(worth.today));
  const order = Object.keys(KINDS);
  const kinds = [...worth.kinds].sort((a, b) => order.indexOf(a.kind) - order.indexOf(b.kind));
  const slant = (place: number) => ((worth.days[place] ?? "") > worth.today ? "pencilled" : "");
  return (
    <div className="overflow-x-auto">
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
    </div>
  );
}

/** So many places of a list, its first and last among them, and one that has to be. */
function evenly(length: number, most: number, wanted: number): number[] {
  if (length <= most) return Array.from({ length }, (_, place) => place);
  const chosen = new Set([0, length - 1]);
  if (wanted >= 0) chosen.add(wanted);
  for (let step = 1; chosen.size < most && step < most; step += 1)
    chosen.add(Math.round((step * (length - 1)) / (most - 1)));
  return [...chosen].sort((a, b) => a - b);
}
