import { type ReactNode, useState } from "react";
import { counted } from "@/shared/format";
import { Button } from "@/shared/kit/Button";
import { Select } from "@/shared/kit/fields/Select";
import type { Line } from "./useBankFile";

const AT_FIRST = 40;

interface Props {
  title: string;
  /** Whose lines they are, where a file has those of several accounts. */
  of: string;
  lines: Line[];
  /** Several at once: what all of the group are to be. */
  onAll?: (what: string) => void;
  row: (line: Line) => ReactNode;
}

/** Lines of one sort, with how many they are; a long list shows its first ones. */
export function LineGroup({ title, of, lines, onAll, row }: Props) {
  const [shown, setShown] = useState(AT_FIRST);
  if (lines.length === 0) return null;
  const name = of ? `${title}: ${of}` : title;
  const rest = lines.length - shown;
  return (
    <section aria-label={name} className="mt-4">
      <div className="flex flex-wrap items-center gap-x-4 border-b border-rule-strong">
        <h2 className="text-base">
          {title} <span className="text-pencil">{counted(lines.length)}</span>
        </h2>
        {onAll && lines.length > 1 && (
          <Select
            label={`All of “${name}”`}
            value=""
            placeholder="All of these…"
            options={[
              { value: "same", label: "as they were found" },
              { value: "new", label: "something new" },
              { value: "leave", label: "left out" },
            ]}
            onChange={onAll}
            className="min-h-9 rounded-sm px-2 text-copper hover:bg-hover"
          />
        )}
      </div>
      <ul>{lines.slice(0, shown).map(row)}</ul>
      {rest > 0 && (
        <Button look="link" onClick={() => setShown(shown + 10 * AT_FIRST)}>
          {Math.min(rest, 10 * AT_FIRST)} more of {counted(rest)}
        </Button>
      )}
    </section>
  );
}
