import { type PointerEvent, type ReactNode, useState } from "react";
import { linear } from "@/shared/charts/linear";
import { useWidth } from "@/shared/charts/useWidth";
import { dayNumber, dayOfNumber, dayText, money } from "@/shared/format";

export interface Course {
  name: string;
  due: readonly string[];
  balance: readonly number[];
  interest: readonly number[];
  principal: readonly number[];
}

interface Props {
  course: Course;
  /** An alternative, drawn in copper. */
  other: Course | null;
  begin: string;
  opening: number;
  today: string;
  currency: string;
  /** What the picture says, in a sentence. */
  children: ReactNode;
}

const TOP = 22;
const FALL = 128;
const BARS = 42;
const AXIS = 20;

/** The balance falling, and beneath it what each payment is made of: interest on the baseline, principal above it. */
export function LoanChart({ course, other, begin, opening, today, currency, children }: Props) {
  const [ref, width] = useWidth<HTMLDivElement>();
  const [reading, setReading] = useState<number | null>(null);
  const last = [course.due.at(-1), other?.due.at(-1)].map((day) => dayNumber(day ?? begin));
  const first = dayNumber(begin);
  const end = Math.max(...last, first + 1);
  const x = linear({ domain: [first, end], range: [0, width] });
  const most = Math.max(opening, ...course.balance, ...(other?.balance ?? []), 1);
  const y = linear({ domain: [0, most], range: [FALL, TOP] });
  const onMove = (event: PointerEvent<HTMLDivElement>) => {
    const across = event.clientX - event.currentTarget.getBoundingClientRect().left;
    setReading(first + (across / Math.max(1, width)) * (end - first));
  };
  const at = reading === null ? null : nearest(course.due, reading);
  // An alternative begins with its first payment, where the other's past ends.
  const line = (oneCourse: Course, isOther = false) => {
    let path = isOther ? "" : `M0 ${y(opening).toFixed(1)}`;
    oneCourse.due.forEach((day, place) => {
      path += `${path ? "L" : "M"}${x(dayNumber(day)).toFixed(1)} ${y(oneCourse.balance[place] ?? 0).toFixed(1)}`;
    });
    return path;
  };
  const now = x(dayNumber(today));
  return (
    <figure aria-label="The balance falling" className="pt-1">
      <div className="flex min-h-7 flex-wrap justify-between gap-x-6">
        <p aria-live="polite" data-testid="loan-answer">
          {children}
        </p>
        <p className="ml-auto">
          {at === null ? <Legend isOther={other !== null} /> : <Reading course={course} at={at} currency={currency} />}
        </p>
      </div>
      <div ref={ref} onPointerMove={onMove} onPointerLeave={() => setReading(null)} className="cursor-crosshair">
        {width > 0 && (
          <svg width={width} height={FALL + BARS + AXIS} aria-hidden="true" className="block">
            <YearAxis begin={begin} end={dayOfNumber(end)} x={x} y={FALL + BARS} width={width} />
            <line x1="0" x2={width} y1={FALL} y2={FALL} stroke="var(--rule)" />
            <text x="2" y={TOP - 10} fontSize="13" fill="var(--pencil)">
              {money(opening, currency)}
            </text>
            {now > 0 && now < width && <line x1={now} x2={now} y1={TOP} y2={FALL} stroke="var(--rule-strong)" />}
            <path d={line(course)} fill="none" stroke="var(--ink)" strokeWidth="1.8" strokeDasharray="5 3.5" />
            <path d={line(past(course, today))} fill="none" stroke="var(--ink)" strokeWidth="2.4" />
            {other && (
              <path
                data-testid="alternative"
                d={line(other, true)}
                fill="none"
                stroke="var(--copper)"
                strokeWidth="2.2"
              />
            )}
            <Bars course={other ?? course} x={x} isOther={other !== null} width={width} />
            {at !== null && (
              <line
                x1={x(dayNumber(course.due[at] ?? begin))}
                x2={x(dayNumber(course.due[at] ?? begin))}
                y1={TOP}
                y2={FALL + BARS}
                stroke="var(--copper)"
              />
            )}
          </svg>
        )}
      </div>
    </figure>
  );
}

function Legend({ isOther }: { isOther: boolean }) {
  return (
    <span className="flex flex-wrap gap-x-5 text-sm text-pencil">
      <span>
        <span className="mr-1.5 inline-block size-3 bg-ink" />
        interest
      </span>
      <span>
        <span className={`mr-1.5 inline-block size-3 ${isOther ? "bg-copper opacity-75" : "bg-pencil opacity-40"}`} />
        principal of each payment
      </span>
    </span>
  );
}

/** What of a course is behind us. */
function past(course: Course, today: string): Course {
  const count = course.due.filter((day) => day < today).length;
  return { ...course, due: course.due.slice(0, count) };
}

function Reading({ course, at, currency }: { course: Course; at: number; currency: string }) {
  const [interest, principal, balance] = [course.interest[at] ?? 0, course.principal[at] ?? 0, course.balance[at] ?? 0];
  return (
    <>
      {dayText(course.due[at] ?? "", "0")}: interest {money(interest, currency)}, principal {money(principal, currency)}
      , <strong>{money(balance, currency)}</strong> owed
    </>
  );
}

function nearest(due: readonly string[], day: number): number | null {
  let best: number | null = null;
  let distance = Number.POSITIVE_INFINITY;
  due.forEach((owed, place) => {
    const away = Math.abs(dayNumber(owed) - day);
    if (away < distance) [best, distance] = [place, away];
  });
  return best;
}

/** No more bars than there are pixels for: neighbours share one, by their average. */
function Bars({
  course,
  x,
  isOther,
  width,
}: {
  course: Course;
  x: (day: number) => number;
  isOther: boolean;
  width: number;
}) {
  const stride = Math.max(1, Math.ceil(course.due.length / Math.max(1, width / 3)));
  const places = course.due.map((_, place) => place).filter((place) => place % stride === 0);
  const usual = [
    ...course.due.map((_, place) => (course.interest[place] ?? 0) + Math.max(0, course.principal[place] ?? 0)),
  ];
  usual.sort((one, next) => one - next);
  // The tall last payment of a balloon would flatten all others.
  const most = Math.max(1, usual[Math.floor(usual.length * 0.98)] ?? 1);
  const height = (amount: number) => (Math.min(most, Math.max(0, amount)) / most) * (BARS - 8);
  const wide = Math.max(1, Math.min(14, (width / Math.max(1, places.length)) * 0.7));
  // One path for each kind: hundreds of bars are redrawn with every move of the extra.
  let interests = "";
  let principals = "";
  for (const place of places) {
    const left = (x(dayNumber(course.due[place] ?? "")) - wide / 2).toFixed(1);
    const interest = height(course.interest[place] ?? 0);
    const whole = height((course.principal[place] ?? 0) + (course.interest[place] ?? 0));
    interests += bar(left, wide, 0, interest);
    if (whole > interest) principals += bar(left, wide, interest, whole - interest);
  }
  return (
    <g>
      <path d={interests} fill="var(--ink)" />
      <path d={principals} fill={isOther ? "var(--copper)" : "var(--pencil)"} opacity={isOther ? 0.75 : 0.4} />
    </g>
  );
}

/** A bar that stands some way above the baseline. */
const bar = (left: string, wide: number, above: number, height: number): string =>
  `M${left} ${(FALL + BARS - above).toFixed(1)}h${wide.toFixed(1)}v${(-height).toFixed(1)}h${(-wide).toFixed(1)}z`;

interface YearAxisProps {
  begin: string;
  end: string;
  x: (day: number) => number;
  y: number;
  width: number;
}

export function YearAxis({ begin, end, x, y, width }: YearAxisProps) {
  const from = Number(begin.slice(0, 4)) + 1;
  const until = Number(end.slice(0, 4));
  const stride = [1, 2, 5, 10, 20].find((owed) => (until - from) / owed <= width / 70) ?? 50;
  const years = [];
  for (let year = Math.ceil(from / stride) * stride; year <= until; year += stride) years.push(year);
  return (
    <g fontSize="13" fill="var(--pencil)">
      <line x1="0" x2={width} y1={y} y2={y} stroke="var(--rule-strong)" />
      {years.map((year) => (
        <g key={year} transform={`translate(${x(dayNumber(`${year}-01-01`)).toFixed(1)},${y})`}>
          <line y2="5" stroke="var(--rule-strong)" />
          {x(dayNumber(`${year}-01-01`)) < width - 36 && (
            <text x="3" y="16">
              {year}
            </text>
          )}
        </g>
      ))}
    </g>
  );
}
