import { useEffect, useMemo, useRef, useState } from "react";
import { type ChangeRequest, Refused } from "@/shared/api/client";
import { useSave } from "@/shared/api/hooks";
import { useToast } from "@/shared/kit/Toast";
import { useWaters } from "@/shared/look/waters";
import { useView } from "@/shared/view";
import { useDraft } from "./draft";

const NONE: ChangeRequest[] = [];

/**
 * What a slip needs: its draft laid over the plan as one types, what is wrong with it field by field, and saving.
 *
 * Problems show for fields that were touched, and for all once saving was tried.
 */
export function useSlip(changes: ChangeRequest[] | null, touched: (field: string) => boolean) {
  const { setDraft, draftError } = useWaters();
  const { closeSlip } = useView();
  const toast = useToast();
  const draftKept = useDraft();
  const save = useSave();
  const [wasTried, setTried] = useState(false);
  // By value, not by identity: who draws a slip anew lays nothing else over the plan, and asks nothing.
  const text = JSON.stringify(changes);
  const draft = useMemo(() => (JSON.parse(text) as ChangeRequest[] | null) ?? NONE, [text]);
  const queue = useSaveQueue();
  useEffect(() => {
    setDraft(draft);
    return () => setDraft(NONE);
  }, [draft, setDraft]);
  // What was refused was refused as it stood: once it changes, the draft tells what is still wrong.
  const [triedText, setTriedText] = useState<string | null>(null);
  const saveError = triedText === text ? save.error : null;
  const problems = useMemo(() => problemsByField(saveError ?? draftError), [saveError, draftError]);
  return {
    isSaving: save.isPending,
    /** What was to be deleted is still in use. */
    isInUse: saveError instanceof Refused && saveError.details.some(({ type }) => type === "in_use"),
    wasTried,
    /** What is wrong with a field, by its name in the document. */
    problem: (field: string): string | undefined =>
      wasTried || touched(field.split(".")[0] ?? field)
        ? (problems.get(field) ?? problemUnder(problems, field))
        : undefined,
    /** What is wrong that no field shows. */
    otherProblem: (fields: string[]): string | undefined => {
      if (!wasTried) return undefined;
      for (const [field, message] of problems)
        if (!fields.includes(field) && !fields.includes(field.split(".")[0] ?? "")) return message;
      return undefined;
    },
    trySaving: () => setTried(true),
    /** `again`: what another slip begins with, where it is wanted. */
    save: (list: ChangeRequest[], done: string, again?: string) =>
      queue(() => {
        setTried(true);
        setTriedText(text);
        return save.mutateAsync(list).then((history) => {
          draftKept.forget();
          toast([history.done ?? done, ...(history.notes ?? [])].join(" · "));
          if (draftKept.isAnotherWanted.current) draftKept.again(again);
          else closeSlip();
        });
      }),
  };
}

/**
 * One save at a time. Who corrects a field and presses Save again before the refusal of the first has come is not
 * passed over: what was asked for last is done once the first has been refused, and dropped once it is saved.
 */
function useSaveQueue() {
  const isUnderWay = useRef(false);
  const next = useRef<(() => Promise<void>) | null>(null);
  const run = (save: () => Promise<void>) => {
    if (isUnderWay.current) {
      next.current = save;
      return;
    }
    isUnderWay.current = true;
    save().then(
      () => {
        isUnderWay.current = false;
        next.current = null;
      },
      () => {
        isUnderWay.current = false;
        const waiting = next.current;
        next.current = null;
        if (waiting) run(waiting);
        // What was refused shows at its field, which one then goes to.
        else setTimeout(focusProblem, 50);
      },
    );
  };
  return run;
}

function focusProblem() {
  // Who has opened a list meanwhile is further on already.
  if (document.querySelector("[role=listbox]")) return;
  const slip = document.querySelector("[data-slip]");
  const place =
    slip?.querySelector<HTMLElement>("[aria-invalid=true]") ?? slip?.querySelector<HTMLElement>("[type=submit]");
  if (document.activeElement === document.body || !slip?.contains(document.activeElement)) place?.focus();
}

/** The first problem of what a field holds, for fields that are lists or have parts. */
function problemUnder(problems: Map<string, string>, field: string): string | undefined {
  for (const [name, message] of problems) if (name.startsWith(`${field}.`)) return message;
  return undefined;
}

/** Problems by the field of the value they are about; deeper ones count for their field as a whole too. */
function problemsByField(error: Error | null): Map<string, string> {
  const fieldOf = new Map<string, string>();
  if (error instanceof Refused)
    for (const { loc, msg } of error.details) {
      const place = loc.indexOf("value");
      const path = place < 0 ? [""] : loc.slice(place + 1).map(String);
      fieldOf.set(path.join("."), msg);
      if (path[0] !== undefined && !fieldOf.has(path[0])) fieldOf.set(path[0], msg);
    }
  else if (error) fieldOf.set("", error.message);
  return fieldOf;
}
