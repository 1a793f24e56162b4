interface Props {
  headroom: number;
  most: number;
}

/** How far a balance is above its floor, against the most on the page; hatched where it is below. */
export function HeadroomBar({ headroom, most }: Props) {
  const share = Math.min(1, Math.abs(headroom) / Math.max(1, most));
  const width = Math.max(2, Math.round(share * 96));
  const isShort = headroom < 0;
  return (
    <svg width="100" height="14" aria-hidden="true" className="block">
      <line x1="0.5" x2="0.5" y1="0" y2="14" stroke="var(--rule-strong)" />
      <rect
        x="1"
        y="3"
        width={width}
        height="8"
        fill={isShort ? "var(--rust)" : "var(--pencil)"}
        opacity={isShort ? 0.9 : 0.45}
      />
    </svg>
  );
}
