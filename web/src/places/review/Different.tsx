import { useState } from "react";
import type { Schemas } from "@/shared/api/client";
import { dayText } from "@/shared/format";
import { Button } from "@/shared/kit/Button";
import { useView } from "@/shared/view";

type Answer = Schemas["ReviewAnswer"];

const AT_FIRST = 10;

/** What did not go as expected, the largest difference first, each with its reason. */
export function Different({ data }: { data: Answer }) {
  const [isWhole, setIsWhole] = useState(false);
  if (data.occurrences.length === 0 && data.different.length === 0) return null;
  const more = data.different.length > AT_FIRST && !isWhole;
  const isCut = isWhole && data.different_count > data.different.length;
  return (
    <section aria-label="What was different" className="mt-6">
      <h2 className="mb-1 text-lg">What was different</h2>
      {data.different.length === 0 && <p className="text-pencil">All that was due went as expected.</p>}
      <ul>
        {(isWhole ? data.different : data.different.slice(0, AT_FIRST)).map((deviation) => (
          <Line
            key={`${deviation.flow} ${deviation.entry} ${deviation.day}`}
            different={deviation}
            today={data.today}
          />
        ))}
      </ul>
      {more && (
        <Button look="link" onClick={() => setIsWhole(true)}>
          {data.different_count > data.different.length
            ? `The ${data.different.length} largest of ${data.different_count} differences`
            : `All ${data.different.length} differences`}
        </Button>
      )}
      {isCut && <p className="text-sm text-pencil">The largest; a shorter stretch shows all of its own.</p>}
    </section>
  );
}

function Line({ different, today }: { different: Answer["different"][number]; today: string }) {
  const { openSlip } = useView();
  const { flow, entry, name, day, sentence } = different;
  return (
    <li className="flex flex-wrap gap-x-3 border-b border-rule py-1">
      <button
        type="button"
        className="min-w-52 text-left hover:underline"
        onClick={() => (entry ? openSlip("entry", entry) : openSlip("flow", flow))}
      >
        {name}
      </button>
      <span className="w-28 text-pencil">{dayText(day, today)}</span>
      <span className="min-w-0 grow">{sentence}</span>
    </li>
  );
}
