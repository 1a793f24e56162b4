import { endOfMonth } from "date-fns";
import { civil, iso } from "@/shared/format";
import { type Chance, useChances } from "@/shared/hooks/useChance";
import type { MonthsAnswer } from "./useMonths";

interface Props {
  data: MonthsAnswer;
  /** Those that are drawn. */
  months: MonthsAnswer["months"];
  today: string;
  /** How the first column looks. */
  head: string;
}

const likeliest = (chances: Chance[], month: string) =>
  chances
    .flatMap(({ months }) => months.filter((oneMonth) => oneMonth.month === month))
    .reduce<Chance["months"][number] | undefined>(
      (most, each) => (most && Number(most.chance) >= Number(each.chance) ? most : each),
      undefined,
    )?.says;

/** How likely each month has a day on which an account is below its floor. */
export function OddsRow({ data, months, today, head }: Props) {
  const last = data.months.at(-1)?.month;
  // Each account has a floor of its own: the likeliest to break it is told, as their sum says nothing of that.
  const { chances, isLoading } = useChances(data.accounts, today, last ? iso(endOfMonth(civil(`${last}-01`))) : "");
  const known = chances.filter((chance) => chance.is_known && chance.below_floor !== null);
  // It takes a while, and has its row by then: what stands below does not move.
  if (known.length === 0 && !isLoading) return null;
  const says = new Map(months.map(({ month }) => [month, likeliest(known, month)]));
  return (
    <tr className="border-t border-rule text-xs">
      <th scope="row" className={`${head} text-left font-normal`}>
        Breaks a floor
      </th>
      {months.map(({ month }) => (
        <td key={month} className={`px-2 ${says.get(month) === "never" ? "text-pencil" : "text-rust"}`}>
          {says.get(month) ?? "\u00a0"}
        </td>
      ))}
      <td />
      <td />
    </tr>
  );
}
