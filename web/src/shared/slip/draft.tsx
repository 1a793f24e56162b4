/** What is typed into a slip is kept in this browser until it is saved or thrown away, and offered when it opens again. */
import { createContext, type ReactNode, type RefObject, useContext, useMemo, useRef, useState } from "react";
import { readDraft, removeDraft, writeDraft } from "@/shared/drafts";
import { takePrefilled } from "./prefill";

interface Draft {
  /** What was typed here before and not saved; null once it is taken up, thrown away, or there is none. */
  offered: unknown;
  takeUp: () => void;
  throwAway: () => void;
  keep: (values: unknown) => void;
  forget: () => void;
  /** A new slip of the same kind is begun as soon as this one is saved, with what it begins with, if that is another. */
  again: (start?: string) => void;
  /** Whether that was asked for. */
  isAnotherWanted: RefObject<boolean>;
  /** What the slip is about was changed meanwhile, here or elsewhere. */
  isStale: boolean;
  setStale: (isStale: boolean) => void;
  /** How a form takes values that were kept. */
  onTakeUp: (put: (values: unknown) => void) => void;
}

const NOTHING: Draft = {
  offered: null,
  takeUp: () => {},
  throwAway: () => {},
  keep: () => {},
  forget: () => {},
  again: () => {},
  isAnotherWanted: { current: false },
  isStale: false,
  setStale: () => {},
  onTakeUp: () => {},
};

const DraftContext = createContext<Draft>(NOTHING);

export const useDraft = () => useContext(DraftContext);

interface Props {
  name: string;
  onAgain: (start?: string) => void;
  children: ReactNode;
}

export function DraftProvider({ name, onAgain, children }: Props) {
  const [begun] = useState<unknown>(() => readDraft(name));
  const [offered, setOffered] = useState(begun);
  const [isStale, setStale] = useState(false);
  const isAnotherWanted = useRef(false);
  const draft = useMemo(() => {
    let put: (values: unknown) => void = () => {};
    const forget = () => {
      removeDraft(name);
      setOffered(null);
    };
    return {
      takeUp: () => {
        put(begun);
        setOffered(null);
      },
      throwAway: forget,
      keep: (values: unknown) => writeDraft(name, values),
      forget,
      onTakeUp: (next: (values: unknown) => void) => {
        put = next;
        // What was said in a sentence stands in its slip at once, without asking.
        const filled = takePrefilled(name);
        if (filled !== null) {
          next(filled);
          setOffered(null);
        }
      },
    };
  }, [name, begun]);
  const value = useMemo(
    () => ({ ...draft, offered, again: onAgain, isAnotherWanted, isStale, setStale }),
    [draft, offered, onAgain, isStale],
  );
  return <DraftContext value={value}>{children}</DraftContext>;
}
