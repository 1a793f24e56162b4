import type { Schemas } from "@/shared/api/client";
import { dayNumber, dayText, money } from "@/shared/format";
import type { Scales } from "./steps";

type Low = Schemas["LowPointModel"];

interface Props {
  lows: Low[];
  /** How likely each month breaks the floor, once that is known. */
  months: Schemas["MonthChanceModel"][];
  currency: string;
  today: string;
  scales: Scales;
  width: number;
  marks: Schemas["MarkModel"][];
  bottom: number;
}

// No line is so wide as this many pixels a character, and none is given less room than most need.
const CHARACTER_WIDTH = 6.5;
const TEXT_WIDTH = 172;

interface Flag {
  low: Low;
  text: string;
  /** Where the day is, and the middle of what is written above it. */
  at: number;
  middle: number;
  width: number;
}

/** What is written at a low point, within the picture, and right of today. */
export function flagOf(
  low: Low,
  { scales, width, currency, today }: Pick<Props, "scales" | "width" | "currency" | "today">,
): Flag {
  const room = low.headroom < 0 ? `${money(-low.headroom, currency)} short` : money(low.balance, currency);
  const text = `${dayText(low.date, today)} · ${room}`;
  const own = Math.max(TEXT_WIDTH, text.length * CHARACTER_WIDTH);
  const at = scales.x(dayNumber(low.date) + 0.5);
  const left = scales.x(dayNumber(today) + 1) + 4;
  return { low, text, at, middle: Math.max(left + own / 2, Math.min(at, width - own / 2)), width: own };
}

/** How likely it breaks the floor in the month of a low point, where that may be. */
function Odds(props: { months: Schemas["MonthChanceModel"][]; low: Low; at: number; colour: string }) {
  const chance = props.months.find(({ month }) => month === props.low.date.slice(0, 7));
  if (!chance || chance.says === "never") return null;
  return (
    <text
      x={props.at}
      y="29"
      textAnchor="middle"
      fill={props.colour}
      stroke="var(--paper)"
      strokeWidth="4"
      paintOrder="stroke"
      fontSize="12.5"
    >
      {chance.says} below the floor
    </text>
  );
}

/** The low points ahead, the lowest first, as many as fit beside one another. */
export function Flags({ lows, months, marks, bottom, ...picture }: Props) {
  const { scales, width } = picture;
  const byDepth = [...lows].sort((one, other) => one.headroom - other.headroom);
  const placed: Flag[] = [];
  for (const low of byDepth) {
    const flag = flagOf(low, picture);
    const isFree = (other: Flag) => Math.abs(other.middle - flag.middle) > (other.width + flag.width) / 2 + 8;
    if (placed.length < 4 && placed.every(isFree)) placed.push(flag);
  }
  return (
    <g fontSize="13.5">
      {marks.map((mark) => {
        const at = scales.x(dayNumber(mark.date));
        const isLate = at > width - TEXT_WIDTH;
        return (
          <g key={`${mark.date}${mark.text}`} data-testid="mark">
            <line x1={at} x2={at} y1="24" y2={bottom} stroke="var(--rust)" strokeWidth="1" strokeDasharray="2 3" />
            <text
              x={isLate ? at - 5 : at + 5}
              y={44}
              textAnchor={isLate ? "end" : "start"}
              fill="var(--rust)"
              stroke="var(--paper)"
              strokeWidth="4"
              paintOrder="stroke"
              fontSize="13"
            >
              {mark.text}
            </text>
          </g>
        );
      })}
      {placed.map(({ low, text, at, middle }) => {
        const colour = low.headroom < 0 ? "var(--rust)" : "var(--ink)";
        return (
          <g key={low.date}>
            <line x1={at} x2={at} y1="19" y2={scales.y(low.balance)} stroke={colour} strokeWidth="1" opacity="0.6" />
            <circle cx={at} cy={scales.y(low.balance)} r="3.5" fill="var(--paper)" stroke={colour} strokeWidth="1.6" />
            <text x={middle} y="14" textAnchor="middle" fill={colour} className="font-semibold">
              {text}
            </text>
            <Odds months={months} low={low} at={middle} colour={colour} />
          </g>
        );
      })}
    </g>
  );
}
