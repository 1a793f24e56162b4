import { ChevronDown, ChevronRight } from "lucide-react";
import { type ReactNode, useId, useRef, useState } from "react";

export interface Foldout {
  id: string;
  label: string;
  content: () => ReactNode;
}

/** Questions in one row, which stays where it is; the answer to the one that is open stands below. */
export function Foldouts({ items }: { items: Foldout[] }) {
  const [open, setOpen] = useState<string | null>(null);
  const panel = useId();
  const row = useRef<HTMLParagraphElement>(null);
  const close = () => {
    row.current?.querySelector<HTMLElement>("[aria-expanded=true]")?.focus();
    setOpen(null);
  };
  const shown = items.find((item) => item.id === open);
  return (
    <div>
      <p ref={row} className="flex flex-wrap gap-x-6">
        {items.map(({ id, label }) => (
          <button
            key={id}
            type="button"
            aria-expanded={id === open}
            aria-controls={id === open ? panel : undefined}
            onClick={() => setOpen(id === open ? null : id)}
            className={`flex min-h-9 items-center gap-1 text-copper ${id === open ? "underline underline-offset-4" : ""}`}
          >
            {id === open ? <ChevronDown size={16} aria-hidden /> : <ChevronRight size={16} aria-hidden />}
            {label}
          </button>
        ))}
      </p>
      {shown && (
        // biome-ignore lint/a11y/noStaticElementInteractions: what is typed within may be left by key
        <div
          id={panel}
          className="mt-1 mb-2"
          // A list that is open over the panel closes by itself alone.
          onKeyDown={({ key, target, currentTarget }) => {
            if (key === "Escape" && currentTarget.contains(target as Node)) close();
          }}
        >
          {shown.content()}
        </div>
      )}
    </div>
  );
}
