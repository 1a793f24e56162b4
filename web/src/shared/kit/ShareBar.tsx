interface Props {
  percent: number;
  className?: string;
  /** Whether a quarter, a half and three quarters are marked. */
  isMarked?: boolean;
}

/** A share of a whole as a bar; the number stands beside it in words. */
export function ShareBar({ percent, className = "w-28", isMarked = false }: Props) {
  return (
    <svg viewBox="0 0 100 6" preserveAspectRatio="none" className={`block h-1.5 ${className}`} aria-hidden="true">
      <rect width="100" height="6" fill="none" stroke="var(--rule-strong)" />
      <rect width={Math.max(0, Math.min(100, percent))} height="6" fill="var(--ink)" />
      {isMarked &&
        [25, 50, 75].map((mark) => (
          <rect
            key={mark}
            x={mark - 0.4}
            width="0.8"
            height="6"
            fill={percent >= mark ? "var(--paper)" : "var(--rule-strong)"}
          />
        ))}
    </svg>
  );
}
