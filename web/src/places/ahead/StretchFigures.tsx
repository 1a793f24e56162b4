import { keepPreviousData } from "@tanstack/react-query";
import { useState } from "react";
import { type Schemas, server } from "@/shared/api/client";
import { useAccounts } from "@/shared/api/hooks";
import { dayText, money } from "@/shared/format";
import { ChooseOne } from "@/shared/kit/fields/Choice";

type Figures = Schemas["FiguresModel"];

interface Props {
  from: string;
  to: string;
  accounts: string;
  today: string;
}

/** What the picked days come to, beside as many days just before. */
export function StretchFigures({ from, to, accounts: together, today }: Props) {
  const [only, setOnly] = useState("all");
  const shown = together.split(",");
  const names = new Map(useAccounts().data?.accounts.map(({ account }) => [account.id, account.name]));
  const accounts = shown.includes(only) ? only : together;
  const { data, error } = server.useQuery(
    "get",
    "/api/figures",
    { params: { query: { from, to, accounts } } },
    { placeholderData: keepPreviousData, retry: false },
  );
  if (error) return <p role="alert">{error.message}</p>;
  if (!data) return null;
  const rows: [string, (figures: Figures) => string][] = [
    ["Opening", (oneFigures) => money(oneFigures.opening, data.currency)],
    ["Money in", (oneFigures) => money(oneFigures.in, data.currency)],
    ["Money out", (oneFigures) => money(oneFigures.out, data.currency)],
    ["Net", (oneFigures) => money(oneFigures.net, data.currency)],
    ["Closing", (oneFigures) => money(oneFigures.closing, data.currency)],
    [
      "Highest",
      (oneFigures) => `${money(oneFigures.highest.balance, data.currency)}, ${dayText(oneFigures.highest.date, today)}`,
    ],
    [
      "Lowest",
      (oneFigures) => `${money(oneFigures.lowest.balance, data.currency)}, ${dayText(oneFigures.lowest.date, today)}`,
    ],
    ["On average", (oneFigures) => money(oneFigures.average, data.currency)],
    ["Days below the cushion", (oneFigures) => String(oneFigures.days_below_cushion)],
    ["Days below the floor", (oneFigures) => String(oneFigures.days_below_floor)],
  ];
  return (
    <details className="mb-4">
      <summary className="min-h-9 cursor-pointer py-1 text-copper">
        Figures for {dayText(from, today)} to {dayText(to, today)}
      </summary>
      {shown.length > 1 && (
        <ChooseOne
          label="Of which accounts"
          value={shown.includes(only) ? only : "all"}
          onChange={setOnly}
          options={[
            { value: "all", label: "Together" },
            ...shown.map((id) => ({ value: id, label: names.get(id) ?? id })),
          ]}
        />
      )}
      <table aria-label="Figures for these days" className="w-full max-w-3xl border-collapse text-right">
        <thead>
          <tr className="border-b border-rule-strong text-sm text-pencil [&>th]:py-1 [&>th]:font-normal">
            <th className="text-left">Figure</th>
            <th>{data.days === 1 ? "This day" : `These ${data.days} days`}</th>
            <th>{data.days === 1 ? "The day before" : `The ${data.days} days before`}</th>
          </tr>
        </thead>
        <tbody>
          {rows.map(([name, figureOf]) => (
            <tr key={name} className="border-b border-rule">
              <td className="py-0.5 text-left">{name}</td>
              <td>{figureOf(data)}</td>
              <td className="text-pencil">{figureOf(data.before)}</td>
            </tr>
          ))}
        </tbody>
      </table>
    </details>
  );
}
