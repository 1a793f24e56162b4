import { useEffect } from "react";
import { useAccounts, useHousehold } from "@/shared/api/hooks";
import { Alert } from "@/shared/kit/Alert";
import { Button } from "@/shared/kit/Button";
import { useWaters } from "@/shared/look/waters";
import { Effect } from "@/shared/slip/Effect";
import { prefill } from "@/shared/slip/prefill";
import { useView } from "@/shared/view";
import { AffordSaid } from "./AffordSaid";
import { Missing } from "./Missing";
import { slipOf } from "./slipOf";
import type { Reading } from "./useSaid";

interface Props {
  reading: Reading;
  answers: Record<string, string>;
  onAnswer: (field: string, value: string) => void;
  onDo: () => void;
  onDone: () => void;
}

/** Under the box: what the reading that is chosen leaves open, and what it does to the lowest point. */
export function SaidBlock({ reading, answers, onAnswer, onDo, onDone }: Props) {
  const { setDraft, draftError } = useWaters();
  const { changes, question } = reading;
  useEffect(() => {
    setDraft(changes);
    return () => setDraft([]);
  }, [changes, setDraft]);
  const isOpen = reading.missing.length > 0 || Object.keys(answers).length > 0;
  return (
    <section aria-label="What was said" className="border-t border-rule px-4 py-2">
      {isOpen && <Missing reading={reading} answers={answers} onAnswer={onAnswer} />}
      {question && <AffordSaid question={question} />}
      {changes.length > 0 && (
        <>
          <Alert error={draftError} />
          <Effect isUntouched={false} />
          <div className="flex flex-wrap gap-2">
            <Button look="main" onClick={onDo}>
              {reading.does === "what_if" ? "Look at it" : "Do it"}
            </Button>
            <InTheSlip reading={reading} onDone={onDone} />
          </div>
        </>
      )}
    </section>
  );
}

/** The whole slip, with all of it filled in. */
function InTheSlip({ reading, onDone }: { reading: Reading; onDone: () => void }) {
  const { openSlip } = useView();
  const accounts = useAccounts().data?.accounts ?? [];
  const usual = useHousehold().data?.household.currency ?? "USD";
  const currencyOf = (id: string) => accounts.find(({ account }) => account.id === id)?.account.currency ?? usual;
  const filled = reading.does === "change" ? slipOf(reading.changes, currencyOf) : null;
  if (!filled) return null;
  return (
    <Button
      onClick={() => {
        onDone();
        prefill(`${filled.kind}:${filled.id ?? "new"}:${filled.start}`, filled.values);
        openSlip(filled.kind, filled.id, filled.start);
      }}
    >
      Open the slip
    </Button>
  );
}
