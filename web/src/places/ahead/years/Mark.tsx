import type { Schemas } from "@/shared/api/client";

export const MONTHS = ["Jan", "Feb", "Mar", "Apr", "May", "Jun", "Jul", "Aug", "Sep", "Oct", "Nov", "Dec"];

export type Stands = Schemas["YearMark"]["stands"];

/** How a bill of a month stands, in words. */
export const STANDING: Record<Stands, string> = {
  none: "",
  settled: "settled",
  part: "settled in part",
  expected: "expected",
  past_due: "past due",
};

/** Ink where it is settled, pencil where it is expected; what is past due stands in a frame. */
export const HANDS: Record<Stands, string> = {
  none: "",
  settled: "",
  part: "pencilled underline decoration-ink decoration-2 underline-offset-2",
  expected: "pencilled",
  past_due: "font-semibold text-rust outline-1 outline-rust",
};

const LOOKS: Record<Stands, string> = {
  none: "",
  settled: "border border-ink bg-ink",
  part: "border border-ink bg-[linear-gradient(90deg,var(--ink)_50%,transparent_50%)]",
  expected: "border border-dashed border-pencil",
  past_due: "border-2 border-rust",
};

/** A month of a bill in a strip of twelve. */
export function Mark({ mark }: { mark: Stands }) {
  if (mark === "none") return <span aria-hidden className="inline-block size-3.5" />;
  return <span aria-hidden className={`inline-block size-3.5 rounded-[2px] align-middle ${LOOKS[mark]}`} />;
}

/** What the hands mean, once. */
export function Key() {
  return (
    <p className="mb-2 flex flex-wrap items-center gap-x-5 text-sm text-pencil">
      {(["settled", "part", "expected", "past_due"] as const).map((mark) => (
        <span key={mark} className={`px-1 ${mark === "settled" ? "text-ink" : HANDS[mark]}`}>
          {STANDING[mark]}
        </span>
      ))}
    </p>
  );
}
