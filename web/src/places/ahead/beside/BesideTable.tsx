import type { ReactNode } from "react";
import type { Schemas } from "@/shared/api/client";
import { dayText, digits, money, monthOf } from "@/shared/format";
import { Wide } from "@/shared/kit/Wide";
import { lookOf } from "./looks";

type Answer = Schemas["SideBySideAnswer"];
type Way = Schemas["BesideModel"];

/** The plan and what-ifs, a column each: lowest point, closings of years, interest, the end of debt. */
export function BesideTable({ data }: { data: Answer }) {
  const { currency, today } = data;
  const years = data.ways[0]?.year_ends.map(({ year }) => year) ?? [];
  return (
    <Wide label="Side by side, scrolled sideways">
      <table aria-label="Side by side" className="w-full border-collapse text-right">
        <thead>
          <tr className="border-b border-rule-strong align-bottom">
            <td className="sticky left-0 bg-paper" />
            {data.ways.map((way, place) => (
              <th key={way.id} className={`min-w-36 px-3 py-1 font-semibold ${place ? "text-copper" : ""}`}>
                <span className="block break-words">{way.name}</span>
                <svg width="56" height="6" aria-hidden="true" className="mt-1 ml-auto block">
                  <line x1="0" x2="56" y1="3" y2="3" {...lookOf(place)} />
                </svg>
              </th>
            ))}
          </tr>
        </thead>
        <tbody>
          <Line name="Lowest" ways={data.ways} tell={(way) => way.lowest && money(way.lowest.balance, currency)} />
          <Line name="on" ways={data.ways} tell={(way) => way.lowest && dayText(way.lowest.date, today)} isSmall />
          <Line
            name="against the floor"
            ways={data.ways}
            isSmall
            tell={(way) => way.lowest && <Headroom way={way} currency={currency} />}
          />
          {years.map((year) => (
            <Line
              key={year}
              name={`End of ${year}`}
              ways={data.ways}
              tell={(way) => {
                const end = way.year_ends.find((yearEnd) => yearEnd.year === year);
                return end && digits(end.balance, currency);
              }}
            />
          ))}
          <Line
            name="Interest in all"
            ways={data.ways}
            tell={(way) =>
              way.problem ? null : way.interest === null ? "without end" : digits(way.interest, data.household_currency)
            }
          />
          <Line
            name="Last loan paid off"
            ways={data.ways}
            tell={(way) => (way.problem ? null : way.debt_free ? monthOf(way.debt_free) : "–")}
          />
        </tbody>
      </table>
    </Wide>
  );
}

function Headroom({ way, currency }: { way: Way; currency: string }) {
  const headroom = way.lowest?.headroom ?? 0;
  if (headroom < 0) return <span className="text-rust">{money(-headroom, currency)} below</span>;
  return <>{money(headroom, currency)} above</>;
}

interface LineProps {
  name: string;
  ways: Way[];
  tell: (way: Way) => ReactNode;
  isSmall?: boolean;
}

function Line({ name, ways, tell, isSmall = false }: LineProps) {
  return (
    <tr className={isSmall ? "text-sm text-pencil" : "border-t border-rule"}>
      <th scope="row" className="sticky left-0 bg-paper py-1 pr-3 text-left font-normal whitespace-nowrap">
        {name}
      </th>
      {ways.map((way) => (
        <td key={way.id} className="px-3 italic">
          {tell(way) ?? (name === "Lowest" && way.problem ? <span className="text-rust">{way.problem}</span> : "")}
        </td>
      ))}
    </tr>
  );
}
