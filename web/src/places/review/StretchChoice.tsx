import { ChevronLeft, ChevronRight } from "lucide-react";
import { useShortcuts } from "@/shared/hooks/useShortcuts";
import { Button } from "@/shared/kit/Button";
import { ChooseOne } from "@/shared/kit/fields/Choice";
import { DayField } from "@/shared/kit/fields/TypedFields";
import type { Per, Stretch } from "./useStretch";

const OPTIONS: { value: Per; label: string }[] = [
  { value: "week", label: "Week" },
  { value: "month", label: "Month" },
  { value: "quarter", label: "Quarter" },
  { value: "year", label: "Year" },
];

/** Which days: a calendar stretch, back and on, or typed days. */
export function StretchChoice({ stretch, name }: { stretch: Stretch; name: string }) {
  useShortcuts({ ",": stretch.earlier, ".": stretch.later });
  const { from = "", to = "" } = stretch.days ?? {};
  return (
    <div className="mb-3 flex flex-wrap items-end gap-x-4 gap-y-2">
      <div className="flex items-center">
        <Button look="link" aria-label="Earlier" title="Earlier (,)" onClick={stretch.earlier}>
          <ChevronLeft size={20} aria-hidden />
        </Button>
        <h1 className="min-w-44 text-center text-xl">{name}</h1>
        <Button look="link" aria-label="Later" title="Later (.)" onClick={stretch.later}>
          <ChevronRight size={20} aria-hidden />
        </Button>
      </div>
      <ChooseOne
        label="How long"
        value={stretch.isPicked ? "" : stretch.per}
        onChange={(per) => stretch.choose(per as Per)}
        options={OPTIONS}
      />
      <div className="flex flex-wrap items-end gap-2">
        <DayField label="From" value={from} onChange={(day) => day && stretch.pick("from", day)} className="w-40" />
        <DayField label="To" value={to} onChange={(day) => day && stretch.pick("until", day)} className="w-40" />
        {stretch.isPicked && (
          <Button look="link" onClick={stretch.unpick}>
            Back to the calendar
          </Button>
        )}
      </div>
    </div>
  );
}
