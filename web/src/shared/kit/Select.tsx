import { Check, ChevronDown } from "lucide-react";
import { Select as Primitive } from "radix-ui";
import { cspNonce } from "../nonce";
import type { FieldIds } from "./Field";

export interface Option {
  value: string;
  label: string;
}

interface Props extends Partial<FieldIds> {
  value: string;
  onChange: (value: string) => void;
  options: readonly Option[];
  label?: string;
  placeholder?: string;
  className?: string;
}

// Radix keeps the empty value for "nothing chosen", so an empty choice goes by another name inside.
const EMPTY = "\u0000";

export function Select({ value, onChange, options, label, placeholder, className = "field", ...ids }: Props) {
  const chosen = options.some((option) => option.value === value) ? value || EMPTY : "";
  return (
    <Primitive.Root value={chosen} onValueChange={(next) => onChange(next === EMPTY ? "" : next)}>
      <Primitive.Trigger
        {...ids}
        aria-label={label}
        className={`inline-flex items-center justify-between gap-2 text-left ${className}`}
      >
        <span className="truncate">
          <Primitive.Value placeholder={placeholder ?? "Choose"} />
        </span>
        <Primitive.Icon>
          <ChevronDown size={16} aria-hidden className="text-pencil" />
        </Primitive.Icon>
      </Primitive.Trigger>
      <Primitive.Portal>
        <Primitive.Content
          position="popper"
          sideOffset={4}
          className="z-50 max-h-[min(24rem,var(--radix-select-content-available-height))] min-w-[var(--radix-select-trigger-width)] overflow-hidden rounded-sm border border-rule-strong bg-sheet shadow-lg"
        >
          <Primitive.Viewport nonce={cspNonce} className="p-1">
            {options.map((option) => (
              <Primitive.Item
                key={option.value}
                value={option.value || EMPTY}
                className="flex min-h-9 items-center justify-between gap-4 rounded-sm px-2.5 outline-none data-[highlighted]:bg-hover"
              >
                <Primitive.ItemText>{option.label}</Primitive.ItemText>
                <Primitive.ItemIndicator>
                  <Check size={16} aria-hidden />
                </Primitive.ItemIndicator>
              </Primitive.Item>
            ))}
          </Primitive.Viewport>
        </Primitive.Content>
      </Primitive.Portal>
    </Primitive.Root>
  );
}
