import type { Schemas } from "@/shared/api/client";

export const MONTHS = ["Jan", "Feb", "Mar", "Apr", "May", "Jun", "Jul", "Aug", "Sep", "Oct", "Nov", "Dec"];

type Stands = Schemas["YearMark"]["stands"];

const LOOKS: Record<Stands, string> = {
  none: "",
  settled: "border border-ink bg-ink",
  part: "border border-ink bg-[linear-gradient(90deg,var(--ink)_50%,transparent_50%)]",
  expected: "border border-dashed border-pencil",
  past_due: "border-2 border-rust",
};

/** A month of a bill: ink where it is settled, pencil where it is expected. */
export function Mark({ stands, says }: { stands: Stands; says?: string | undefined }) {
  if (stands === "none") return <span aria-hidden className="inline-block size-3.5" />;
  const look = `inline-block size-3.5 rounded-[2px] align-middle print:[print-color-adjust:exact] ${LOOKS[stands]}`;
  if (!says) return <span aria-hidden className={look} />;
  return <span role="img" aria-label={says} title={says} className={look} />;
}
