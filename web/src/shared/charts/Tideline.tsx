import { scaleLinear } from "@visx/scale";
import { type KeyboardEvent, type PointerEvent, useId, useMemo, useRef, useState } from "react";
import type { Schemas } from "../api/client";
import { dayNumber, dayOfNumber, dayText, money } from "../format";
import { Flags } from "./Flags";
import { levelOn, type Scales, stepPath } from "./steps";
import { TimeAxis } from "./TimeAxis";

type Line = Schemas["TidelineModel"];

interface Props {
  line: Line;
  copper: Line | null;
  today: string;
  from: string;
  until: string;
  width: number;
  height: number;
  period: { from: string; until: string } | null;
  reading: string | null;
  marks: Schemas["MarkModel"][];
  onRead: (day: string | null) => void;
  onPeriod: (period: { from: string; until: string } | null) => void;
}

const TOP = 24;
const AXIS = 20;

/** Balances as a shore: ink to today, pencil after, shallow water hatched below the floor. */
export function Tideline(props: Props) {
  const { line, copper, today, from, until, width, height, period, reading } = props;
  const isSmall = height < 100;
  const first = dayNumber(from);
  const last = dayNumber(until) + 1;
  const scales = useScales(line, copper, first, last, width, height, isSmall);
  const hatch = useId();
  const now = scales.x(dayNumber(today) + 1);
  const leaving = { day: dayNumber(today) + 1, balance: line.ink.at(-1)?.[1] };
  const floor = scales.y(line.floor);
  const bottom = height - (isSmall ? 0 : AXIS);
  return (
    <Reach {...props} first={first} last={last}>
      <svg width={width} height={height} aria-hidden="true" className="block">
        <defs>
          <pattern id={hatch} width="7" height="7" patternUnits="userSpaceOnUse" patternTransform="rotate(52)">
            <rect width="7" height="7" fill="var(--rust-wash)" />
            <line x1="0" y1="0" x2="0" y2="7" stroke="var(--rust)" strokeWidth="1.4" opacity="0.55" />
          </pattern>
        </defs>
        {line.cushion > line.floor && (
          <rect
            x="0"
            width={width}
            y={scales.y(line.cushion)}
            height={floor - scales.y(line.cushion)}
            fill="var(--honey)"
          />
        )}
        {line.lows.length > 0 && (
          <rect x="0" width={width} y={floor} height={Math.max(0, bottom - floor)} fill={`url(#${hatch})`} />
        )}
        {!isSmall && <TimeAxis from={from} until={until} x={scales.x} y={bottom} width={width} />}
        {period && (
          <rect
            x={scales.x(dayNumber(period.from))}
            width={Math.max(2, scales.x(dayNumber(period.until) + 1) - scales.x(dayNumber(period.from)))}
            y="0"
            height={bottom}
            fill="var(--ink)"
            opacity="0.09"
          />
        )}
        <line x1={now} x2={now} y1={isSmall ? 0 : 6} y2={bottom} stroke="var(--rule-strong)" />
        {!isSmall && (
          <text x={now - 5} y={14} textAnchor="end" fontSize="13" fill="var(--pencil)">
            today
          </text>
        )}
        <path
          data-testid="ink"
          d={stepPath(line.ink, dayNumber(today) + 1, scales)}
          fill="none"
          stroke="var(--ink)"
          strokeWidth="2.2"
        />
        <path
          data-testid="pencil"
          d={stepPath(line.pencil, last, scales, leaving)}
          fill="none"
          stroke="var(--ink)"
          strokeWidth="1.7"
          strokeDasharray="5 3.5"
        />
        {copper && (
          <path
            data-testid="copper"
            d={stepPath(copper.pencil, last, scales, leaving)}
            fill="none"
            stroke="var(--copper)"
            strokeWidth="2.2"
          />
        )}
        {!isSmall && (
          <Flags
            lows={(copper ?? line).lows}
            currency={line.currency}
            today={today}
            scales={scales}
            width={width}
            marks={props.marks}
            bottom={bottom}
          />
        )}
        {reading && <Hair day={reading} line={line} scales={scales} bottom={bottom} />}
      </svg>
    </Reach>
  );
}

function useScales(
  line: Line,
  copper: Line | null,
  first: number,
  last: number,
  width: number,
  height: number,
  isSmall: boolean,
): Scales {
  return useMemo(() => {
    const balances = [line, copper]
      .flatMap((each) => (each ? [...each.ink, ...each.pencil] : []))
      .map((level) => level[1]);
    const lowest = Math.min(line.floor, ...balances);
    const highest = Math.max(line.cushion, ...balances, lowest + 1);
    const spare = (highest - lowest) * 0.12;
    const x = scaleLinear<number>({ domain: [first, last], range: [0, width] });
    const y = scaleLinear<number>({
      domain: [lowest - spare, highest],
      range: isSmall ? [height - 2, 3] : [height - AXIS, TOP],
    });
    return { x: (day) => x(day), y: (amount) => y(amount) };
  }, [line, copper, first, last, width, height, isSmall]);
}

function Hair({ day, line, scales, bottom }: { day: string; line: Line; scales: Scales; bottom: number }) {
  const balance = levelOn(line.pencil, day) ?? levelOn(line.ink, day);
  const across = scales.x(dayNumber(day) + 0.5);
  return (
    <g>
      <line x1={across} x2={across} y1="0" y2={bottom} stroke="var(--copper)" strokeWidth="1" />
      {balance !== undefined && <circle cx={across} cy={scales.y(balance)} r="4" fill="var(--copper)" />}
    </g>
  );
}

interface ReachProps extends Props {
  first: number;
  last: number;
  children: React.ReactNode;
}

/** Reading a day by pointing or by arrow keys; picking a stretch by dragging or with Shift. */
function Reach({ first, last, width, today, line, reading, period, onRead, onPeriod, children }: ReachProps) {
  const anchor = useRef<string | null>(null);
  const [isDragging, setDragging] = useState(false);
  const dayAt = (event: PointerEvent<HTMLElement>) => {
    const across = event.clientX - event.currentTarget.getBoundingClientRect().left;
    const day = Math.floor(first + (across / width) * (last - first));
    return dayOfNumber(Math.max(first, Math.min(last - 1, day)));
  };
  const pick = (day: string) => {
    const start = anchor.current ?? day;
    if (start !== day) onPeriod(start < day ? { from: start, until: day } : { from: day, until: start });
  };
  const onKeyDown = (event: KeyboardEvent) => {
    const stride = { ArrowLeft: -1, ArrowRight: 1, PageUp: -7, PageDown: 7 }[event.key];
    if (event.key === "Escape" && (reading || period)) {
      event.preventDefault();
      onRead(null);
      onPeriod(null);
      anchor.current = null;
    }
    if (stride === undefined) return;
    event.preventDefault();
    const before = reading ?? today;
    const after = Math.max(first, Math.min(last - 1, dayNumber(before) + stride));
    onRead(dayOfNumber(after));
    if (event.shiftKey) {
      anchor.current ??= before;
      pick(dayOfNumber(after));
    } else anchor.current = null;
  };
  const shown = reading ?? today;
  const balance = levelOn(line.pencil, shown) ?? levelOn(line.ink, shown);
  return (
    <div
      role="slider"
      tabIndex={0}
      aria-label="Tideline: balance by day. Arrow keys read a day, with Shift they pick a stretch."
      aria-valuemin={first}
      aria-valuemax={last - 1}
      aria-valuenow={dayNumber(shown)}
      aria-valuetext={`${dayText(shown, today)}: ${balance === undefined ? "not open yet" : money(balance, line.currency)}`}
      className="cursor-crosshair touch-pan-y select-none"
      onKeyDown={onKeyDown}
      onBlur={() => onRead(null)}
      onPointerDown={(event) => {
        event.currentTarget.setPointerCapture(event.pointerId);
        anchor.current = dayAt(event);
        setDragging(true);
      }}
      onPointerMove={(event) => {
        onRead(dayAt(event));
        if (isDragging) pick(dayAt(event));
      }}
      onPointerUp={(event) => {
        if (anchor.current === dayAt(event) && period) onPeriod(null);
        setDragging(false);
        anchor.current = null;
      }}
      onPointerLeave={() => onRead(null)}
    >
      {children}
    </div>
  );
}
