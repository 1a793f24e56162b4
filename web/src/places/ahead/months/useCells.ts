import { api } from "@/shared/api/client";
import { useSave } from "@/shared/api/hooks";
import type { Amount } from "./block";

/** Put amounts into cells, as one undoable change. */
export function useCells() {
  const save = useSave();
  return async (cells: Amount[]) => {
    const answered = await api.post("/api/months/cells", { body: { cells } });
    if (answered.changes.length > 0) await save.mutateAsync(answered.changes);
  };
}
