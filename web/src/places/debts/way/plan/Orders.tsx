import type { ReactNode } from "react";
import { type Asked, type Choice, ORDER_NAMES, type Way } from "@/places/debts/way/wayOut";
import { server } from "@/shared/api/client";
import { money, monthOf, monthsText } from "@/shared/format";

interface Props {
  way: Way;
  asked: Asked;
  onChange: (part: Partial<Asked>) => void;
}

/** Every order against minimums alone, and the cheapest way beside them. */
export function Orders({ way, asked, onChange }: Props) {
  const { currency } = way;
  const cheapest = useCheapest(asked);
  const answered = cheapest.data?.cheapest;
  return (
    <section aria-label="The orders side by side" className="mt-8">
      <h2 className="border-b border-rule-strong text-lg">The orders side by side</h2>
      <table className="w-full border-collapse text-right">
        <thead>
          <tr className="text-sm text-pencil [&>th]:py-1 [&>th]:font-normal">
            <th className="text-left">Which first</th>
            <th>Debt-free</th>
            <th>Interest in all</th>
            <th className="hidden @2xl:table-cell">Saves</th>
            <th className="hidden @2xl:table-cell">Sooner</th>
            <th className="hidden @2xl:table-cell">First debt gone</th>
          </tr>
        </thead>
        <tbody>
          {way.comparison.map((compared) => (
            <OrderLine key={compared.strategy} choice={compared.strategy} way={way} onChange={onChange}>
              <td className="whitespace-nowrap">{compared.debt_free ? monthOf(compared.debt_free) : "never"}</td>
              <td>{compared.months === null ? "–" : money(compared.total_interest, currency)}</td>
              <td className="hidden @2xl:table-cell">
                {compared.saves_interest ? money(compared.saves_interest, currency) : "–"}
              </td>
              <td className="hidden @2xl:table-cell">
                {compared.saves_months ? monthsText(compared.saves_months) : "–"}
              </td>
              <td className="hidden @2xl:table-cell">
                {compared.first_cleared ? monthOf(compared.first_cleared) : "–"}
              </td>
            </OrderLine>
          ))}
          <OrderLine choice="cheapest" way={way} onChange={onChange}>
            <td className="whitespace-nowrap">{answered?.debt_free ? monthOf(answered.debt_free) : ""}</td>
            <td>{answered ? money(answered.total_interest, currency) : ""}</td>
            <td className="hidden @2xl:table-cell">
              {answered?.saves_interest != null && money(answered.saves_interest, currency)}
            </td>
            <td className="hidden @2xl:table-cell">
              {answered?.saves_months != null && monthsText(answered.saves_months)}
            </td>
            <td className="hidden @2xl:table-cell" />
          </OrderLine>
        </tbody>
      </table>
      <ul className="mt-2">
        {way.differences.map((difference) => (
          <li key={difference}>{difference}</li>
        ))}
        <Cheapest saves={answered?.saves_more ?? null} isAwaited={cheapest.isFetching} currency={currency} />
      </ul>
    </section>
  );
}

interface CheapestProps {
  saves: number | null;
  isAwaited: boolean;
  currency: string;
}

/** What the cheapest way saves beyond these orders. While that is worked out its lines are kept: nothing moves after. */
function Cheapest({ saves, isAwaited, currency }: CheapestProps) {
  if (saves === null && !isAwaited) return null;
  const more = `The cheapest way saves ${money(saves ?? 0, currency)} more than the best of these orders with the same money each month. Which debt gets the extra then changes as rates do: choose it, and the months below say so.`;
  if (isAwaited)
    return (
      <li className="relative">
        <span aria-hidden className="invisible">
          {more}
        </span>
        <span className="absolute inset-x-0 top-0 flex items-center gap-3 text-sm text-pencil">
          <progress aria-label="Working out the cheapest way" className="h-2 w-40" />
          Working out the cheapest way of all.
        </span>
      </li>
    );
  return (
    <li>
      {(saves ?? 0) > 0 ? more : "No way with the same money each month is cheaper than the best of these orders."}
    </li>
  );
}

interface LineProps {
  choice: Choice;
  way: Way;
  onChange: Props["onChange"];
  children: ReactNode;
}

function OrderLine({ choice, way, onChange, children }: LineProps) {
  const isChosen = way.strategy === choice;
  return (
    <tr className={`border-t border-rule ${isChosen ? "font-semibold" : ""}`}>
      <th scope="row" className="py-1 text-left font-normal">
        <button
          type="button"
          aria-pressed={isChosen}
          onClick={() => onChange({ strategy: choice })}
          className={`min-h-8 hover:underline ${isChosen ? "font-semibold" : "text-copper"}`}
        >
          {ORDER_NAMES[choice]}
        </button>
      </th>
      {children}
    </tr>
  );
}

/** It takes longer than all the rest. */
function useCheapest(asked: Asked) {
  const body: Asked = { ...asked, want: ["cheapest"] };
  return server.useQuery("post", "/api/payoff", { body }, { retry: false });
}
