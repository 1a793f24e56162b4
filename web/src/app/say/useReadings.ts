import type { Schemas } from "@/shared/api/client";
import { useSave } from "@/shared/api/hooks";
import { useToast } from "@/shared/kit/Toast";
import { useWhatIf } from "@/shared/whatIf";
import type { Reading } from "./useSaid";

/** What a reading is called among all that can be chosen; the second one has its number after it. */
export const SAY = "what was said";

const NONE: Reading[] = [];

/** The readings of what was said, that which is chosen, and doing one. */
export function useReadings(said: Schemas["UnderstoodAnswer"] | undefined, selected: string, onDone: () => void) {
  const save = useSave();
  const toast = useToast();
  const { begin } = useWhatIf();
  const readings = said?.readings ?? NONE;
  const place = selected.startsWith(SAY) ? Number(selected.slice(SAY.length)) : -1;
  const act = (reading: Reading) => {
    // What is missing is filled in first; a question is answered where it stands.
    if (reading.changes.length === 0 || save.isPending) return;
    if (reading.does === "what_if") {
      onDone();
      void begin(reading.sentence, reading.changes);
      return;
    }
    save.mutate(reading.changes, {
      onSuccess: () => {
        onDone();
        toast(`${reading.sentence}. Undo takes it back.`);
      },
      onError: (error) => toast(error.message),
    });
  };
  return { readings, chosen: readings[place], act };
}
