import { useRef, useState } from "react";
import { useEntryChoices } from "@/shared/api/hooks";
import { categoryOptions } from "@/shared/categories";
import type { FieldIds } from "./Field";
import { NewCategory } from "./NewCategory";
import { type Option, Select } from "./Select";

const NEW = "+";

interface Props extends Partial<FieldIds> {
  kind: "income" | "expense";
  value: string;
  onChange: (value: string) => void;
  /** What is offered before the categories. */
  before?: Option[];
  /** How a category stands among the options. */
  optionOf?: (category: Option) => Option;
  label?: string;
  className?: string;
}

const asItIs = (category: Option) => category;

/** One of the household's categories of a kind, or a new one, made on the spot. */
export function CategorySelect({ kind, value, onChange, before = [], optionOf = asItIs, className, ...rest }: Props) {
  const categories = useEntryChoices().data?.categories ?? [];
  const [isMaking, setMaking] = useState(false);
  const chosen = categories.filter(({ id }) => optionOf({ value: id, label: "" }).value === value);
  const options = categoryOptions(
    categories,
    kind,
    chosen.map(({ id }) => id),
  ).map(optionOf);
  const all = [...before, ...options];
  const isEmpty = all.length === 0;
  const box = useRef<HTMLDivElement>(null);
  const close = () => {
    setMaking(false);
    box.current?.querySelector<HTMLElement>("[role=combobox]")?.focus();
  };
  const made = (id: string) => {
    onChange(optionOf({ value: id, label: "" }).value);
    close();
  };
  return (
    <div ref={box} className="flex min-w-0 flex-1 flex-col gap-1.5">
      {!isEmpty && (
        <Select
          {...rest}
          {...(className ? { className } : {})}
          value={value}
          placeholder="Choose a category"
          options={[...all, { value: NEW, label: "A new category…" }]}
          onChange={(next) => (next === NEW ? setMaking(true) : onChange(next))}
        />
      )}
      {(isMaking || isEmpty) && (
        <NewCategory kind={kind} begins={isMaking ? "asked" : "open"} onMade={made} onClose={close} />
      )}
    </div>
  );
}
