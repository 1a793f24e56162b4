import { Link } from "react-router";
import type { Schemas } from "@/shared/api/client";
import { dayText, money, rateText } from "@/shared/format";
import { ShareBar } from "@/shared/kit/ShareBar";
import { keptSearch, useView } from "@/shared/view";

type Row = Schemas["CardRow"];

interface Props {
  cards: Row[];
  totals: Schemas["CardTotals"];
  currency: string;
  today: string;
}

/** Cards and lines: owed, free, what comes next and what they cost. */
export function CardTable({ cards, totals, currency, today }: Props) {
  return (
    <table aria-label="Cards and lines" className="mt-4 w-full border-collapse">
      <thead>
        <tr className="border-b border-rule-strong text-right text-sm text-pencil [&>th]:py-1 [&>th]:font-normal">
          <th className="text-left">Card or line</th>
          <th>Owed now</th>
          <th className="hidden @2xl:table-cell">Rate</th>
          <th className="hidden @2xl:table-cell">Next payment</th>
          <th className="hidden pl-4 @4xl:table-cell">Of its limit</th>
          <th className="hidden @4xl:table-cell">Costs a year</th>
          <th>Still free</th>
        </tr>
      </thead>
      <tbody>
        {cards.map((card) => (
          <CardLine key={card.id} card={card} today={today} />
        ))}
      </tbody>
      {cards.length > 1 && (
        <tfoot>
          <tr className="text-right align-baseline [&>td]:py-2">
            <th scope="row" className="text-left font-semibold">
              All cards and lines
            </th>
            <td className="font-semibold">{money(totals.owed, currency)}</td>
            <td className="hidden @2xl:table-cell" />
            <td className="hidden @2xl:table-cell" />
            <td className="hidden @4xl:table-cell" />
            <td className="hidden @4xl:table-cell">
              {money(totals.cost_year, currency)}
              <span className="block text-sm text-pencil">{money(totals.cost_month, currency)} a month</span>
            </td>
            <td>{money(totals.available, currency)}</td>
          </tr>
        </tfoot>
      )}
    </table>
  );
}

function CardLine({ card, today }: { card: Row; today: string }) {
  const { search } = useView();
  const { currency } = card;
  return (
    <tr className="border-b border-rule text-right align-baseline">
      <td className="py-2 text-left">
        <Link
          to={{ pathname: `/debts/cards/${encodeURIComponent(card.id)}`, search: keptSearch(search) }}
          className="font-semibold hover:underline"
        >
          {card.name}
        </Link>
        <span className="block text-sm text-pencil">
          {card.paid_from ? `due ${dayText(card.next_due, today)}` : "paid by hand"}
        </span>
      </td>
      <td className="font-semibold">{money(card.owed, currency)}</td>
      <td className="hidden @2xl:table-cell">
        {rateText(card.annual_rate)}%
        {card.rises && (
          <span className="block text-sm text-rust">
            {rateText(card.rises.rate)}% from {dayText(card.rises.day, today)}
          </span>
        )}
      </td>
      <td className="hidden @2xl:table-cell pencilled">{card.paid_from ? money(card.next_payment, currency) : "–"}</td>
      <td className="hidden pl-4 @4xl:table-cell">
        {card.used_percent}% of {money(card.limit, currency)}
        <ShareBar percent={card.used_percent} className="mt-1 ml-auto w-28" />
      </td>
      <td className="hidden @4xl:table-cell">
        {money(card.cost_year, currency)}
        <span className="block text-sm text-pencil">{money(card.cost_month, currency)} a month</span>
      </td>
      <td className={card.available < 0 ? "font-semibold text-rust" : ""}>{money(card.available, currency)}</td>
    </tr>
  );
}
