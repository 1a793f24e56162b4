import { useQuery, useQueryClient } from "@tanstack/react-query";
import {
  createContext,
  type ReactNode,
  useCallback,
  useContext,
  useLayoutEffect,
  useMemo,
  useRef,
  useState,
} from "react";
import type { ChangeRequest, TidelineAnswer } from "@/shared/api/client";
import { tidelineOptions, useHousehold } from "@/shared/api/hooks";
import { type Span, spanDays, useView } from "@/shared/view";

interface Waters {
  today: string;
  from: string;
  until: string;
  plain: TidelineAnswer | undefined;
  drafted: TidelineAnswer | undefined;
  draftError: Error | null;
  /** Ask what an edit would do, which is laid over the plan in a moment. */
  ask: (changes: ChangeRequest[]) => void;
  /** Lay an unsaved edit over the plan, in copper; an empty list takes it off. */
  setDraft: (changes: ChangeRequest[]) => void;
}

const WatersContext = createContext<Waters | null>(null);
const NO_CHANGES: ChangeRequest[] = [];

/** The tideline as it is and with the open slip's unsaved edit, which the frame draws and the slip sums up. */
export function WatersProvider({ children }: { children: ReactNode }) {
  const household = useHousehold().data;
  const view = useView();
  const [draft, setDraft] = useState<ChangeRequest[]>(NO_CHANGES);
  const days = useMemo(
    () => (household ? daysShown(household.today, view.span, view.zoom) : { from: "", until: "" }),
    [household, view.span, view.zoom],
  );
  const query = household ? { accounts: view.accounts, each: view.each, ...days } : null;
  const client = useQueryClient();
  const plain = useQuery(tidelineOptions(query, NO_CHANGES));
  const drafted = useQuery(tidelineOptions(draft.length ? query : null, draft));
  // The app is asked before anything is drawn for it, so that both go on at once.
  const asking = useRef(query);
  useLayoutEffect(() => {
    asking.current = query;
  });
  const ask = useCallback(
    (changes: ChangeRequest[]) => {
      if (changes.length && asking.current) void client.prefetchQuery(tidelineOptions(asking.current, changes));
    },
    [client],
  );
  const lay = useCallback(
    (changes: ChangeRequest[]) => {
      ask(changes);
      setDraft(changes);
    },
    [ask],
  );
  const isDrafting = draft.length > 0;
  // A key that was typed makes no other waters: what it does has not been answered yet, and nothing is drawn for it.
  const waters = useMemo(
    () => ({
      today: household?.today ?? "",
      ...days,
      plain: plain.data,
      // A what-if that is looked at is in copper without any unsaved edit.
      drafted: isDrafting ? drafted.data : plain.data?.copper ? plain.data : undefined,
      draftError: isDrafting ? drafted.error : null,
      ask,
      setDraft: lay,
    }),
    [household?.today, days, plain.data, isDrafting, drafted.data, drafted.error, ask, lay],
  );
  return <WatersContext value={waters}>{children}</WatersContext>;
}

/** The days of the tideline: the span's, or those zoomed to, which reach beyond today. */
function daysShown(today: string, span: Span, zoom: { from: string; until: string } | null) {
  if (!zoom || zoom.until <= today) return spanDays(today, span);
  return zoom;
}

export function useWaters(): Waters {
  const waters = useContext(WatersContext);
  if (!waters) throw new Error("useWaters is for what the frame holds");
  return waters;
}
