import { addMonths, format } from "date-fns";
import { civil, money } from "@/shared/format";

interface Props {
  months: number[];
  today: string;
  currency: string;
}

/** Twelve months as bars on one baseline, this month first. */
export function MonthStrip({ months, today, currency }: Props) {
  const most = Math.max(...months, 1);
  const text = months.map((sum, index) => `${format(addMonths(civil(today), index), "MMM")} ${money(sum, currency)}`);
  return (
    <svg width="132" height="26" role="img" aria-label={`By month: ${text.join(", ")}`} className="block">
      <line x1="0" x2="132" y1="25.5" y2="25.5" stroke="var(--rule-strong)" strokeWidth="1" />
      {months.map((sum, index) => {
        const height = sum > 0 ? Math.max(2, (sum / most) * 24) : 0;
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
