import { monthNumber } from "@/places/debts/way/wayColumns";
import type { Column, Picture } from "@/places/debts/way/wayOut";
import { INKS } from "./inks";

type Point = readonly [month: number, owed: number];
/** Where the end of a month with so much owed is drawn. */
export type At = (month: number, owed: number) => string;

interface Props {
  picture: Picture;
  /** The plan that was adopted, where another is tried: it stays in pencil under the copper. */
  planned: Picture | undefined;
  columns: Column[];
  at: At;
}

/** What is owed: on record in ink, planned in pencil or, where it is only tried, in copper; minimums alone behind it. */
export function WayLines({ picture, planned, columns, at }: Props) {
  const points = (allColumns: Column[]): Point[] => allColumns.map((column) => [monthNumber(column.month), column.sum]);
  const ink = columns.filter((column) => !column.is_planned);
  const start = monthNumber(picture.start);
  const begin = columns.find((column) => monthNumber(column.month) === start - 1);
  const least = picture.least.owed.map((owed, later): Point => [start + later, owed]);
  return (
    <g fill="none">
      <path
        d={line([...(begin ? points([begin]) : []), ...least], at)}
        stroke="var(--pencil)"
        strokeWidth="1.3"
        strokeDasharray="2 4"
      />
      <path d={line(points(ink), at)} stroke="var(--ink)" strokeWidth="2" />
      {planned && (
        <path
          d={line(points(planned.owed.filter((column) => column.is_planned)), at)}
          stroke="var(--ink)"
          strokeWidth="1.6"
          strokeDasharray="6 4"
        />
      )}
      <path
        data-testid="planned"
        d={line(points([...ink.slice(-1), ...columns.filter((column) => column.is_planned)]), at)}
        stroke={planned ? "var(--copper)" : "var(--ink)"}
        strokeWidth="2"
        strokeDasharray={planned ? undefined : "6 4"}
      />
    </g>
  );
}

const line = (points: readonly Point[], at: At): string =>
  points.map(([month, owed], place) => `${place ? "L" : "M"}${at(month, owed)}`).join("");

/** One area for each debt, standing on those that are paid after it. */
export function WayStack({ columns, at }: { columns: Column[]; at: At }) {
  const debts = columns[0]?.owed.length ?? 0;
  const areas = [];
  let below = columns.map((): number => 0);
  for (let debt = debts - 1; debt >= 0; debt -= 1) {
    const above = columns.map((column, place) => (below[place] ?? 0) + (column.owed[debt] ?? 0));
    const edge = (heights: number[]) =>
      columns.map((column, place): Point => [monthNumber(column.month), heights[place] ?? 0]);
    areas.push(
      <path
        key={debt}
        d={`${line(edge(above), at)}${line(edge(below).reverse(), at).replace("M", "L")}Z`}
        fill="var(--ink)"
        fillOpacity={INKS[debt % INKS.length]}
        stroke="var(--paper)"
        strokeWidth="1"
      />,
    );
    below = above;
  }
  return areas;
}
