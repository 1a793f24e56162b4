import type { ReactNode } from "react";
import { useEntryChoices } from "@/shared/api/hooks";
import { Button } from "@/shared/kit/Button";
import { Select } from "@/shared/kit/fields/Select";
import { useView } from "@/shared/view";

const KINDS = [
  { value: "income", label: "Income" },
  { value: "bill", label: "Bills" },
  { value: "loan_payment", label: "Loan payments" },
  { value: "transfer", label: "Transfers" },
  { value: "allowance", label: "Allowances" },
  { value: "card", label: "Card payments" },
  { value: "interest", label: "Interest" },
  { value: "recorded", label: "Recorded ahead" },
] as const;

type Kind = (typeof KINDS)[number]["value"];

export interface Filters {
  kind: Kind | null;
  category: string | null;
}

/** What the address asks to see; what it cannot mean is left out. */
export function filtersOf(search: URLSearchParams): Filters {
  const kind = KINDS.find(({ value }) => value === search.get("kind"))?.value ?? null;
  return { kind, category: search.get("for") || null };
}

interface Props {
  filters: Filters;
  onNextLow: (() => void) | null;
  /** What else is done with the lines shown. */
  children?: ReactNode;
}

/** Which lines of the days are shown, and the way to the next low point. */
export function DayFilters({ filters, onNextLow, children }: Props) {
  const { set } = useView();
  const categories = useEntryChoices().data?.categories ?? [];
  const look = "field !min-h-9 !w-44";
  return (
    <div className="mb-1 flex flex-wrap items-center gap-2">
      <Select
        label="Kind shown"
        value={filters.kind ?? ""}
        onChange={(kind) => set({ kind: kind || null })}
        options={[{ value: "", label: "Every kind" }, ...KINDS]}
        className={look}
      />
      <Select
        label="What for"
        value={filters.category ?? ""}
        onChange={(category) => set({ for: category || null })}
        options={[
          { value: "", label: "Every category" },
          ...categories.map(({ id, name }) => ({ value: id, label: name })),
        ]}
        className={look}
      />
      {(filters.kind || filters.category) && (
        <Button look="link" className="!min-h-9" onClick={() => set({ kind: null, for: null })}>
          Show all
        </Button>
      )}
      {children}
      {onNextLow && (
        <Button look="link" className="!min-h-9 ml-auto" onClick={onNextLow}>
          To the next low point
        </Button>
      )}
    </div>
  );
}
