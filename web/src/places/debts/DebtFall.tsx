import { linear } from "@/shared/charts/linear";
import { useWidth } from "@/shared/charts/useWidth";
import { dayNumber, money } from "@/shared/format";
import { YearAxis } from "./loan/LoanChart";

interface Props {
  balances: [string, number][] | (string | number)[][];
  today: string;
  currency: string;
}

const HEIGHT = 120;
const TOP = 16;

/** What all loans together leave owed, falling to nothing. */
export function DebtFall({ balances, today, currency }: Props) {
  const [ref, width] = useWidth<HTMLDivElement>();
  const levels = balances as [string, number][];
  const end = levels.at(-1)?.[0] ?? today;
  const most = Math.max(1, ...levels.map((level) => level[1]));
  const x = linear({ domain: [dayNumber(today), dayNumber(end) + 1], range: [0, width] });
  const y = linear({ domain: [0, most], range: [HEIGHT, TOP] });
  let path = "";
  for (const [day, owed] of levels) path += `${path ? "L" : "M"}${x(dayNumber(day)).toFixed(1)} ${y(owed).toFixed(1)}`;
  return (
    <figure aria-label={`All debts together, ${money(most, currency)} falling to nothing`} className="my-3">
      <div ref={ref}>
        {width > 0 && (
          <svg width={width} height={HEIGHT + 22} aria-hidden="true" className="block">
            <YearAxis begin={today} end={end} x={x} y={HEIGHT} width={width} />
            <path d={`${path}L${width} ${HEIGHT}L0 ${HEIGHT}Z`} fill="var(--hover)" />
            <path d={path} fill="none" stroke="var(--ink)" strokeWidth="1.8" strokeDasharray="5 3.5" />
          </svg>
        )}
      </div>
    </figure>
  );
}
