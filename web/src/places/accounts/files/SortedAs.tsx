import { useEntryChoices } from "@/shared/api/hooks";
import { money } from "@/shared/format";
import { CategorySelect } from "@/shared/kit/fields/CategorySelect";
import type { Line } from "./useBankFile";

interface Props {
  line: Line;
  currency: string;
  value: string;
  onChange: (category: string) => void;
}

/** Where a new line belongs; what nobody has sorted says so. */
export function SortedAs({ line, currency, value, onChange }: Props) {
  const known = useEntryChoices().data?.categories ?? [];
  const isUnsorted = line.category && !known.some(({ id }) => id === line.category);
  return (
    <CategorySelect
      kind={line.amount > 0 ? "income" : "expense"}
      label={`Category: ${line.payee || "a line without a name"}, ${money(line.amount, currency)}`}
      value={value}
      before={isUnsorted ? [{ value: line.category ?? "", label: "not sorted yet" }] : []}
      onChange={onChange}
    />
  );
}
