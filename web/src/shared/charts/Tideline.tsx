import { type KeyboardEvent, type PointerEvent, useId, useMemo, useRef, useState } from "react";
import type { Schemas } from "@/shared/api/client";
import { dayNumber, dayOfNumber, dayText, money } from "@/shared/format";
import type { Chance } from "@/shared/hooks/useChance";
import { Balance, Copper } from "./Balance";
import { Flags } from "./Flags";
import { linear } from "./linear";
import { type OwnLine, OwnLines } from "./OwnLines";
import { SureBand } from "./SureBand";
import { levelOn, type Scales } from "./steps";
import { TimeAxis } from "./TimeAxis";
import { useZoom, zoomed } from "./useZoom";

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
  /** The accounts one by one, where each has its own line. */
  each: readonly OwnLine[];
  marks: Schemas["MarkModel"][];
  /** How sure it is, once that is known and wanted. */
  chance: Chance | undefined;
  /** What is in copper is not saved yet: nothing is counted of it. */
  isOfEdit: boolean;
  onRead: (day: string | null) => void;
  onPeriod: (period: { from: string; until: string } | null) => void;
  /** Other days are to be shown; null: those of the chosen span. */
  onZoom: (shown: { from: string; until: string } | null) => void;
}

const TOP = 24;
const AXIS = 20;

/** Balances as a shore: ink to today, pencil after, shallow water hatched below the floor. */
export function Tideline(props: Props) {
  const { line, copper, today, from, until, width, height, period, reading } = props;
  const isSmall = height < 100;
  const first = dayNumber(from);
  const last = dayNumber(until) + 1;
  const own = useMemo(
    () => props.each.filter((ownLine) => ownLine.currency === line.currency),
    [props.each, line.currency],
  );
  const scales = useScales(line, copper, own, first, last, width, height, isSmall);
  const hatch = useId();
  const now = scales.x(dayNumber(today) + 1);
  const floor = scales.y(line.floor);
  const bottom = height - (isSmall ? 0 : AXIS);
  return (
    <Reach {...props} first={first} last={last}>
      <svg width={width} height={height} aria-hidden="true" className="block">
        <Hatch id={hatch} width={width} height={bottom} />
        {own.length === 0 && line.cushion > line.floor && (
          <rect
            x="0"
            width={width}
            y={scales.y(line.cushion)}
            height={floor - scales.y(line.cushion)}
            fill="var(--honey)"
          />
        )}
        {own.length === 0 && line.lows.length > 0 && (
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
        {props.chance && own.length === 0 && (
          <g clipPath={`url(#${hatch}-shown)`}>
            <SureBand bands={props.chance.bands} last={last} scales={scales} />
          </g>
        )}
        {own.length > 0 ? (
          <OwnLines lines={own} today={today} first={first} last={last} width={width} scales={scales} />
        ) : (
          <Balance line={line} today={today} first={first} last={last} scales={scales} />
        )}
        {copper && <Copper line={copper} today={today} first={first} last={last} scales={scales} />}
        {!isSmall && own.length === 0 && (
          <Flags
            lows={(copper ?? line).lows}
            months={props.isOfEdit ? [] : (props.chance?.months ?? [])}
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
  own: OwnLine[],
  first: number,
  last: number,
  width: number,
  height: number,
  isSmall: boolean,
): Scales {
  return useMemo(() => {
    const drawn = own.length > 0 ? [...own, copper] : [line, copper];
    const floors = own.length > 0 ? own.map((ownLine) => ownLine.floor) : [line.floor];
    const balances = drawn
      .flatMap((ownLine) => (ownLine ? [...ownLine.ink, ...ownLine.pencil] : []))
      .map((level) => level[1]);
    const lowest = least([...floors, ...balances]);
    const highest = most([own.length > 0 ? lowest : line.cushion, ...balances, lowest + 1]);
    const spare = (highest - lowest) * 0.12;
    const x = linear({ domain: [first, last], range: [0, width] });
    const y = linear({
      domain: [lowest - spare, highest],
      range: isSmall ? [height - 2, 3] : [height - AXIS, TOP],
    });
    return { x: (day) => x(day), y: (amount) => y(amount) };
  }, [line, copper, own, first, last, width, height, isSmall]);
}

// Ten years have more levels than a call may have arguments.
const least = (amounts: number[]) => amounts.reduce((low, amount) => Math.min(low, amount));
const most = (amounts: number[]) => amounts.reduce((high, amount) => Math.max(high, amount));

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
function Reach(props: ReachProps) {
  const { first, last, width, today, from, until, line, reading, period, onRead, onPeriod, onZoom, children } = props;
  const box = useRef<HTMLDivElement>(null);
  const zoom = (around: number, factor: number) => onZoom(zoomed({ from, until }, today, around, factor));
  const zoomBy = useZoom(box, (across) => first + (across / width) * (last - first), zoom);
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
    const before = reading ?? today;
    const closer = { "+": 0.7, "=": 0.7, "-": 1 / 0.7 }[event.key];
    if (closer !== undefined && !event.ctrlKey && !event.metaKey) zoomBy(dayNumber(before), closer);
    if (event.key === "0") onZoom(null);
    const ends = { Home: first, End: last - 1 }[event.key];
    if (stride === undefined && ends === undefined) return;
    event.preventDefault();
    const after = Math.max(first, Math.min(last - 1, ends ?? dayNumber(before) + (stride ?? 0)));
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
      ref={box}
      role="slider"
      tabIndex={0}
      aria-label="Tideline: balance by day. Arrow keys read a day, with Shift they pick a stretch; plus and minus look closer or further."
      aria-valuemin={first}
      aria-valuemax={last - 1}
      aria-valuenow={dayNumber(shown)}
      aria-valuetext={`${dayText(shown, today)}: ${balance === undefined ? "not open yet" : money(balance, line.currency)}`}
      className="cursor-crosshair touch-pan-y select-none"
      onKeyDown={onKeyDown}
      onBlur={() => onRead(null)}
      onPointerDown={(event) => {
        // Two fingers look closer; one picks a stretch.
        if (!event.isPrimary) {
          anchor.current = null;
          return setDragging(false);
        }
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
      onPointerLeave={(event) => event.pointerType === "mouse" && onRead(null)}
    >
      {children}
    </div>
  );
}

interface HatchProps {
  id: string;
  width: number;
  height: number;
}

/** The hatching of what is below the floor, and the part of the picture that is not the axis. */
function Hatch({ id, width, height }: HatchProps) {
  return (
    <defs>
      <pattern id={id} width="7" height="7" patternUnits="userSpaceOnUse" patternTransform="rotate(52)">
        <rect width="7" height="7" fill="var(--rust-wash)" />
        <line x1="0" y1="0" x2="0" y2="7" stroke="var(--rust)" strokeWidth="1.4" opacity="0.55" />
      </pattern>
      <clipPath id={`${id}-shown`}>
        <rect width={width} height={height} />
      </clipPath>
    </defs>
  );
}
