interface Props {
  /** What it came to of what was expected, in percent, the oldest first. */
  percents: readonly number[];
}

const HEIGHT = 24;
const WIDE = 6;

/** Each time a stroke from what was expected: up where it was more, down where it was less. */
export function HistoryStrip({ percents }: Props) {
  if (percents.length === 0) return null;
  const most = Math.max(...percents.map((percent) => Math.abs(percent - 100)), 1);
  const width = percents.length * WIDE;
  const middle = HEIGHT / 2;
  return (
    <svg
      width={width}
      height={HEIGHT}
      role="img"
      aria-label={`In percent of what was expected: ${percents.join(", ")}`}
    >
      <line x1="0" x2={width} y1={middle} y2={middle} stroke="var(--rule-strong)" />
      {percents.map((percent, place) => (
        <line
          // biome-ignore lint/suspicious/noArrayIndexKey: the times are in order and do not move
          key={place}
          x1={place * WIDE + WIDE / 2}
          x2={place * WIDE + WIDE / 2}
          y1={middle}
          y2={middle - ((percent - 100) / most) * (middle - 1)}
          stroke="var(--ink)"
          strokeWidth="2.5"
        />
      ))}
    </svg>
  );
}
