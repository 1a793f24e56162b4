interface Props {
  expected: number;
  actual: number;
  most: number;
}

const WIDTH = 220;

/** What was expected as a dashed outline, what happened as ink within it, from one line on; the numbers stand beside. */
export function PairBar({ expected, actual, most }: Props) {
  const wide = (amount: number) => Math.max(0, Math.round((Math.max(0, amount) / Math.max(1, most)) * (WIDTH - 4)));
  return (
    <svg viewBox={`0 0 ${WIDTH} 18`} preserveAspectRatio="none" className="block h-4.5 w-full" aria-hidden="true">
      <line x1="0.75" x2="0.75" y1="0" y2="18" stroke="var(--rule-strong)" strokeWidth="1.5" />
      <rect x="1.5" y="5" width={wide(actual)} height="8" fill="var(--ink)" />
      {expected > 0 && (
        <rect
          x="1.5"
          y="1.5"
          width={wide(expected)}
          height="15"
          fill="none"
          stroke="var(--pencil)"
          strokeDasharray="4 3"
          vectorEffect="non-scaling-stroke"
        />
      )}
    </svg>
  );
}
