import type { Schemas } from "@/shared/api/client";
import { dayText, money } from "@/shared/format";
import { useChance } from "@/shared/hooks/useChance";
import { Term } from "@/shared/kit/Term";

type Shallow = Schemas["ShallowModel"];

interface Props {
  shallows: Shallow[];
  currency: string;
  today: string;
  until: string;
}

/** Every stretch below floor or cushion: when, how deep, and what takes it down. */
export function ShallowList({ shallows, currency, today, until }: Props) {
  const chance = useChance([...new Set(shallows.map(({ account }) => account))], today, until);
  const months = new Map(chance?.is_known ? chance.months.map(({ month, says }) => [month, says]) : []);
  const firstNearly = shallows.findIndex((shallow) => shallow.below === "cushion");
  return (
    <table aria-label="Low stretches" className="w-full max-w-4xl border-collapse text-left">
      <thead>
        <tr className="border-b border-rule-strong text-sm text-pencil [&>th]:py-1 [&>th]:pr-3 [&>th]:font-normal">
          <th>Days</th>
          <th>Below the</th>
          <th className="text-right">Deepest</th>
          <th>Chance in that month</th>
          <th>Taken down by</th>
        </tr>
      </thead>
      <tbody>
        {shallows.map((shallow, place) => (
          <tr
            key={`${shallow.below} ${shallow.from}`}
            className="border-b border-rule align-top [&>td]:py-1 [&>td]:pr-3"
          >
            <td className="whitespace-nowrap">{daysOf(shallow, today)}</td>
            <td>{place === firstNearly ? <Term of="Cushion">cushion</Term> : shallow.below}</td>
            <td
              className={`text-right whitespace-nowrap ${shallow.below === "floor" ? "font-semibold text-rust" : ""}`}
            >
              {money(shallow.short_by, currency)}
            </td>
            <td className="whitespace-nowrap">{months.get(shallow.from.slice(0, 7)) ?? ""}</td>
            <td className="pencilled">
              {shallow.causes.map((cause) => `${cause.name} ${money(cause.amount, currency)}`).join(", ") ||
                "what was there before"}
            </td>
          </tr>
        ))}
      </tbody>
    </table>
  );
}

/** `on Thu Apr 1`, or from when to when. */
export const daysOf = ({ from, to }: Pick<Shallow, "from" | "to">, today: string) =>
  from === to ? dayText(from, today) : `${dayText(from, today)} to ${dayText(to, today)}`;
