import { addMonths, format } from "date-fns";
import { civil, money } from "@/shared/format";

/** What the months of a strip are called, this month first. */
export const stripMonths = (today: string): string[] =>
  Array.from({ length: 12 }, (_, index) => format(addMonths(civil(today), index), "MMM"));

interface Props {
  months: number[];
  names: string[];
  currency: string;
}

/** Twelve months as bars on one baseline, this month first; where nothing is to come, there is no bar. */
export function MonthStrip({ months, names, currency }: Props) {
  const most = Math.max(...months, 1);
  const text = months.map((sum, index) => `${names[index]} ${money(sum, currency)}`);
  return (
    <svg width="132" height="26" role="img" aria-label={`By month: ${text.join(", ")}`} className="block">
      <line x1="0" x2="132" y1="25.5" y2="25.5" stroke="var(--rule-strong)" strokeWidth="1" />
      {months.map((sum, index) => {
        if (sum <= 0) return null;
        const height = Math.max(2, (sum / most) * 24);
        return (
          <rect
            // biome-ignore lint/suspicious/noArrayIndexKey: the months are in order and do not move
            key={index}
            x={index * 11 + 1}
            y={25 - height}
            width="8"
            height={height}
            fill="var(--sheet)"
            stroke="var(--ink)"
            strokeDasharray="2.5 1.5"
          >
            <title>{text[index]}</title>
          </rect>
        );
      })}
    </svg>
  );
}
