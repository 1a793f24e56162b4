import type { Schemas } from "@/shared/api/client";
import { useSave } from "@/shared/api/hooks";
import { Button } from "@/shared/kit/Button";
import { useToast } from "@/shared/kit/Toast";
import { type Item, ROWS } from "./statement";

type Cause = Schemas["CauseModel"];
type Part = Schemas["CausePart"];

const NAMES = Object.fromEntries(ROWS.map((row) => [row.item, row.name.toLowerCase()])) as Record<Item, string>;

/** What explains the differences, each put right with one press; several mistakes at once, together or one by one. */
export function Causes({ causes, left }: { causes: Cause[]; left: Item[] }) {
  const save = useSave();
  const toast = useToast();
  const correct = (cause: Part) =>
    save.mutate(cause.changes, {
      onSuccess: () => toast("Corrected. Undo takes it back."),
      onError: (error) => toast(error.message),
    });
  if (causes.length === 0) return null;
  return (
    <section aria-label="What explains it">
      <ul>
        {causes.map((cause, place) => (
          <li key={cause.sentence} className="border-b border-rule py-2">
            {cause.parts.length > 0 ? (
              <Together parts={cause.parts} isBusy={save.isPending} onCorrect={correct} />
            ) : (
              <p>{cause.sentence}</p>
            )}
            <p className="mt-1 flex flex-wrap items-center gap-x-4 gap-y-1">
              <Button look={place === 0 ? "main" : "plain"} disabled={save.isPending} onClick={() => correct(cause)}>
                {cause.parts.length > 0 ? "Correct all of it" : "Correct this"}
              </Button>
              <span className="text-sm text-pencil">{explained(cause, left)}</span>
            </p>
          </li>
        ))}
      </ul>
    </section>
  );
}

interface TogetherProps {
  parts: Part[];
  isBusy: boolean;
  onCorrect: (part: Part) => void;
}

function Together({ parts, isBusy, onCorrect }: TogetherProps) {
  return (
    <ul className="list-disc pl-5">
      {parts.map((part) => (
        <li key={part.sentence} className="mb-1">
          {part.sentence}{" "}
          <button
            type="button"
            disabled={isBusy}
            onClick={() => onCorrect(part)}
            className="text-copper underline underline-offset-4"
          >
            Correct only this
          </button>
        </li>
      ))}
    </ul>
  );
}

function explained(cause: Cause, left: Item[]): string {
  if (cause.explains.length === left.length) return "This explains all that differs.";
  return `This explains: ${cause.explains.map((item) => NAMES[item]).join(", ")}.`;
}
