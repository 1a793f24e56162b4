import { ToggleGroup } from "radix-ui";
import { FieldGroup } from "@/shared/kit/fields/Field";
import { ICONS } from "@/shared/look/icons";

/** One of the shipped icons, or none. */
export function IconPicker({ value, onChange }: { value: string; onChange: (icon: string) => void }) {
  return (
    <FieldGroup label="Icon">
      <ToggleGroup.Root
        type="single"
        aria-label="Icon"
        value={value}
        onValueChange={onChange}
        className="grid grid-cols-[repeat(auto-fill,minmax(2.5rem,1fr))] gap-1"
      >
        {Object.entries(ICONS).map(([name, Icon]) => (
          <ToggleGroup.Item
            key={name}
            value={name}
            aria-label={name}
            className="grid h-10 place-items-center rounded-sm hover:bg-hover data-[state=on]:bg-ink data-[state=on]:text-paper"
          >
            <Icon size={19} aria-hidden />
          </ToggleGroup.Item>
        ))}
      </ToggleGroup.Root>
    </FieldGroup>
  );
}
