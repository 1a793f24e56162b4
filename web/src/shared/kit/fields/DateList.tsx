import { plusDays } from "@/shared/format";
import { AddRow, RemoveRow } from "@/shared/kit/RowButtons";
import { FieldGroup } from "./Field";

interface Props {
  label: string;
  days: string[];
  first: string;
  problem?: string | undefined;
  onChange: (days: string[]) => void;
}

/** Some dates, each with its own field. */
export function DateList({ label, days, first, problem, onChange }: Props) {
  const shown = days.length ? days : [""];
  return (
    <FieldGroup label={label} problem={problem}>
      <ul className="flex flex-col gap-1.5">
        {shown.map((day, place) => (
          // biome-ignore lint/suspicious/noArrayIndexKey: a date being written has no identity but its place
          <li key={place} className="flex gap-1.5">
            <input
              type="date"
              aria-label={`${label}, date ${place + 1}`}
              value={day}
              onChange={(event) => onChange(shown.with(place, event.target.value))}
              className="field"
            />
            <RemoveRow
              name={`Remove date ${place + 1}`}
              onClick={() => onChange(days.filter((_, at) => at !== place))}
            />
          </li>
        ))}
      </ul>
      <AddRow
        name="One more date"
        onClick={() => onChange([...days, plusDays(days.at(-1) || first, days.length ? 7 : 0)])}
      />
    </FieldGroup>
  );
}
