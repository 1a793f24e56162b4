import { scaleLinear } from "@visx/scale";
import { type PointerEvent, useState } from "react";
import { useWidth } from "@/shared/charts/useWidth";
import { money, monthOf } from "@/shared/format";
import { YearAxis } from "../LoanChart";
import { OneTime } from "./OneTime";
import type { Asked, Picture, Progress } from "./wayOut";

interface Props {
  picture: Picture;
  sums: Asked["one_time"];
  progress: Progress | null;
  onChange: (part: Partial<Asked>) => void;
}

const HEIGHT = 250;
const TOP = 14;
/** Neighbours in the stack differ by how much ink they carry. */
const INKS = [0.3, 0.12, 0.22, 0.07, 0.17];

const number = (month: string): number => +month.slice(0, 4) * 12 + +month.slice(5, 7) - 1;
const text = (month: number): string => `${Math.floor(month / 12)}-${String((month % 12) + 1).padStart(2, "0")}`;
const day = (month: number): number => Date.UTC(Math.floor(month / 12), month % 12, 1) / 864e5;

interface Column {
  month: number;
  owed: number[];
}

/** What is owed at the end of each month, on record and then as planned, debt by debt in one order. */
function columnsOf(picture: Picture): Column[] {
  const ids = picture.debts.map((debt) => debt.id);
  // Past months are told in the order of the accounts, which is that of the balances.
  const held = Object.keys(picture.owed);
  const places = ids.map((id) => held.indexOf(id));
  const past = picture.past.map((each) => ({
    month: number(each.month),
    owed: places.map((place) => each.owed[place] ?? 0),
  }));
  const start = number(picture.start);
  const begin = { month: start - 1, owed: picture.debts.map((debt) => debt.owed) };
  const planned = Array.from({ length: picture.months }, (_, later) => ({
    month: start + later,
    owed: ids.map((id) => picture.owed[id]?.[later] ?? 0),
  }));
  return [...past.filter((each) => each.month < begin.month), begin, ...planned];
}

/** Balances stacked month by month down to nothing, the outline of minimums alone behind them. */
export function WayPicture({ picture, sums: once, progress, onChange }: Props) {
  const [ref, width] = useWidth<HTMLDivElement>();
  const [pointed, setPointed] = useState<number | null>(null);
  const [placing, setPlacing] = useState<string | null>(null);
  const columns = columnsOf(picture);
  const sums = columns.map((column) => column.owed.reduce((sum, owed) => sum + owed, 0));
  const start = number(picture.start);
  const from = columns[0]?.month ?? start;
  const last = Math.max(start + picture.least.owed.length - 1, columns.at(-1)?.month ?? start);
  const x = scaleLinear<number>({ domain: [day(from + 1), day(last + 1)], range: [0, width] });
  const most = Math.max(1, ...sums, ...picture.least.owed);
  const y = scaleLinear<number>({ domain: [0, most], range: [HEIGHT, TOP] });
  const at = (month: number, owed: number) => `${x(day(month + 1)).toFixed(1)} ${y(owed).toFixed(1)}`;
  const monthAt = (event: PointerEvent<SVGSVGElement>) => {
    const on = x.invert(event.clientX - event.currentTarget.getBoundingClientRect().left);
    const date = new Date(on * 864e5);
    return Math.max(from, Math.min(last, date.getUTCFullYear() * 12 + date.getUTCMonth()));
  };
  const shown = pointed === null ? undefined : columns.find((column) => column.month === pointed);
  const sumAt = shown ? shown.owed.reduce((sum, owed) => sum + owed, 0) : 0;
  const isTried = progress !== null && picture.debt_free !== progress.planned_debt_free;
  return (
    <div>
      <figure aria-label={`What is owed, from ${money(sums[0] ?? 0, picture.currency)} down to nothing`}>
        <p className="min-h-6 text-sm text-pencil" aria-hidden="true">
          {shown
            ? `End of ${monthOf(text(shown.month))}: ${money(sumAt, picture.currency)} owed`
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
              onClick={(event) => setPlacing(text(Math.max(start, monthAt(event as never))))}
            >
              <YearAxis begin={`${text(from + 1)}-01`} end={`${text(last + 1)}-01`} x={x} y={HEIGHT} width={width} />
              <Stack columns={columns} at={at} />
              <path
                d={line(
                  [
                    [start - 1, sums[columns.findIndex((each) => each.month === start - 1)] ?? 0],
                    ...picture.least.owed.map((owed, place): [number, number] => [start + place, owed]),
                  ],
                  at,
                )}
                fill="none"
                stroke="var(--pencil)"
                strokeWidth="1.3"
                strokeDasharray="2 4"
              />
              <path
                d={line(
                  columns
                    .map((each, place): [number, number] => [each.month, sums[place] ?? 0])
                    .filter(([month]) => month < start),
                  at,
                )}
                fill="none"
                stroke="var(--ink)"
                strokeWidth="2"
              />
              <path
                data-testid="planned"
                d={line(
                  columns
                    .map((each, place): [number, number] => [each.month, sums[place] ?? 0])
                    .filter(([month]) => month >= start - 1),
                  at,
                )}
                fill="none"
                stroke={isTried ? "var(--copper)" : "var(--ink)"}
                strokeWidth="2"
                strokeDasharray="6 4"
              />
              {once.map((sum) => (
                <g
                  key={`${sum.month} ${sum.amount}`}
                  transform={`translate(${x(day(number(sum.month) + 1)).toFixed(1)},0)`}
                >
                  <line y1={TOP} y2={HEIGHT} stroke="var(--copper)" strokeDasharray="1 3" />
                  <path d={`M-5 ${HEIGHT}L5 ${HEIGHT}L0 ${HEIGHT - 9}Z`} fill="var(--copper)" />
                </g>
              ))}
              {shown && (
                <line
                  x1={x(day(shown.month + 1))}
                  x2={x(day(shown.month + 1))}
                  y1={TOP}
                  y2={HEIGHT}
                  stroke="var(--pencil)"
                />
              )}
            </svg>
          )}
        </div>
        <figcaption className="flex flex-wrap gap-x-5 text-sm text-pencil">
          {picture.debts.map((debt, place) => (
            <span key={debt.id}>
              <span className="mr-1.5 inline-block size-3 bg-ink" style={{ opacity: INKS[place % INKS.length] }} />
              {debt.name}
            </span>
          ))}
          <span>Dotted: minimums alone.</span>
        </figcaption>
      </figure>
      <OneTime picture={picture} sums={once} placing={placing} onPlacing={setPlacing} onChange={onChange} />
    </div>
  );
}

type At = (month: number, owed: number) => string;

const line = (points: [number, number][], at: At): string =>
  points.map(([month, owed], place) => `${place ? "L" : "M"}${at(month, owed)}`).join("");

/** One area for each debt, standing on those that are paid after it. */
function Stack({ columns, at }: { columns: Column[]; at: At }) {
  const count = columns[0]?.owed.length ?? 0;
  const areas = [];
  for (let debt = 0; debt < count; debt += 1) {
    const above = columns.map((each) => each.owed.slice(debt).reduce((sum, owed) => sum + owed, 0));
    const below = columns.map((each) => each.owed.slice(debt + 1).reduce((sum, owed) => sum + owed, 0));
    const top = columns.map((each, place): [number, number] => [each.month, above[place] ?? 0]);
    const bottom = columns.map((each, place): [number, number] => [each.month, below[place] ?? 0]).reverse();
    areas.push(
      <path
        key={debt}
        d={`${line(top, at)}${line(bottom, at).replace("M", "L")}Z`}
        fill="var(--ink)"
        fillOpacity={INKS[debt % INKS.length]}
      />,
    );
  }
  return areas;
}
