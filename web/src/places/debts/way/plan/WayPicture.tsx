import { type MouseEvent, useState } from "react";
import { YearAxis } from "@/places/debts/loan/LoanChart";
import { firstDay, monthNumber, monthText } from "@/places/debts/way/wayColumns";
import type { Asked, Picture } from "@/places/debts/way/wayOut";
import { linear } from "@/shared/charts/linear";
import { useWidth } from "@/shared/charts/useWidth";
import { money, monthOf } from "@/shared/format";
import { INKS } from "./inks";
import { OneTime } from "./OneTime";
import { MOST_LABELS, WayLabels } from "./WayLabels";
import { WayLines, WayStack } from "./WayLines";

interface Props {
  picture: Picture;
  /** The plan that was adopted, where another is tried. */
  planned: Picture | undefined;
  sums: Asked["one_time"];
  onChange: (part: Partial<Asked>) => void;
}

const HEIGHT = 250;
const TOP = 14;

/** Balances stacked month by month down to nothing, the outline of minimums alone behind them. */
export function WayPicture({ picture, planned, sums, onChange }: Props) {
  const [ref, width] = useWidth<HTMLDivElement>();
  const [pointed, setPointed] = useState<number | null>(null);
  const [placing, setPlacing] = useState<string | null>(null);
  const { currency } = picture;
  const columns = picture.owed;
  const start = monthNumber(picture.start);
  const from = monthNumber(columns[0]?.month ?? picture.start);
  const last = Math.max(start + picture.least.owed.length - 1, monthNumber(columns.at(-1)?.month ?? picture.start));
  const x = linear({ domain: [firstDay(from + 1), firstDay(last + 1)], range: [0, width] });
  const most = Math.max(1, ...columns.map((column) => column.sum), ...picture.least.owed);
  const y = linear({ domain: [0, most], range: [HEIGHT, TOP] });
  const endOf = (month: number) => x(firstDay(month + 1));
  const at = (month: number, owed: number) => `${endOf(month).toFixed(1)} ${y(owed).toFixed(1)}`;
  const monthAt = (event: MouseEvent<SVGSVGElement>) => {
    const day = x.invert(event.clientX - event.currentTarget.getBoundingClientRect().left);
    const date = new Date(day * 864e5);
    return Math.max(from, Math.min(last, date.getUTCFullYear() * 12 + date.getUTCMonth()));
  };
  const shown = columns.find((column) => monthNumber(column.month) === pointed);
  return (
    <div>
      <figure aria-label={`What is owed, from ${money(columns[0]?.sum ?? 0, currency)} down to nothing`}>
        <p className="min-h-6 text-sm text-pencil" aria-hidden="true">
          {shown
            ? `End of ${monthOf(shown.month)}: ${money(shown.sum, currency)} owed`
            : "Point at a month to read it; press on one to add a sum there."}
        </p>
        <div ref={ref}>
          {width > 0 && (
            <svg
              width={width}
              height={HEIGHT + 22}
              aria-hidden="true"
              className="block cursor-crosshair"
              onPointerMove={(event) => setPointed(monthAt(event))}
              onPointerLeave={() => setPointed(null)}
              onClick={(event) => setPlacing(monthText(Math.max(start, monthAt(event))))}
            >
              <YearAxis
                begin={`${monthText(from + 1)}-01`}
                end={`${monthText(last + 1)}-01`}
                x={x}
                y={HEIGHT}
                width={width}
              />
              <WayStack columns={columns} at={at} />
              <WayLines picture={picture} planned={planned} columns={columns} at={at} />
              <WayLabels picture={picture} columns={columns} width={width} top={TOP} x={endOf} y={y} />
              <Marks strained={picture.strained} sums={sums} endOf={endOf} />
              {shown && (
                <line
                  x1={endOf(monthNumber(shown.month))}
                  x2={endOf(monthNumber(shown.month))}
                  y1={TOP}
                  y2={HEIGHT}
                  stroke="var(--pencil)"
                />
              )}
            </svg>
          )}
        </div>
        <figcaption className="flex flex-wrap gap-x-5 text-sm text-pencil">
          {picture.debts.length > MOST_LABELS &&
            picture.debts.map((debt, place) => (
              <span key={debt.id}>
                <span className="mr-1.5 inline-block size-3 bg-ink" style={{ opacity: INKS[place % INKS.length] }} />
                {debt.name}
              </span>
            ))}
          <span>Dotted: minimums alone.</span>
          {picture.strained.length > 0 && <span>Marked below: months that cannot bear it.</span>}
        </figcaption>
      </figure>
      <OneTime picture={picture} sums={sums} placing={placing} onPlacing={setPlacing} onChange={onChange} />
    </div>
  );
}

interface MarksProps {
  strained: string[];
  sums: Asked["one_time"];
  endOf: (month: number) => number;
}

/** Months that cannot bear the plan, and the sums that are paid once. */
function Marks({ strained, sums, endOf }: MarksProps) {
  return (
    <>
      {" "}
      {strained.map((month) => (
        <rect
          key={month}
          x={endOf(monthNumber(month) - 1)}
          width={Math.max(1.5, endOf(monthNumber(month)) - endOf(monthNumber(month) - 1))}
          y={HEIGHT - 4}
          height="4"
          fill="var(--rust)"
        />
      ))}
      {sums.map((sum) => (
        <g key={`${sum.month} ${sum.amount}`} transform={`translate(${endOf(monthNumber(sum.month))},0)`}>
          <line y1={TOP} y2={HEIGHT} stroke="var(--copper)" strokeDasharray="1 3" />
          <path d={`M-5 ${HEIGHT}L5 ${HEIGHT}L0 ${HEIGHT - 9}Z`} fill="var(--copper)" />
        </g>
      ))}
    </>
  );
}
