import { useQueryClient } from "@tanstack/react-query";
import { useEffect } from "react";
import { api, isAllOwn, isShutOut, NoAnswer, type Schemas } from "@/shared/api/client";
import { HOUSEHOLD } from "@/shared/api/hooks";

/** Under this key: whether the app does not answer. */
export const SILENT = ["silent"];

const EVERY = 2000;
/** So many times in a row nobody answers before that is said. */
const MOST_UNANSWERED = 2;

/**
 * While this window is looked at, what others change is shown within two seconds; and that the app does not answer,
 * until it does again.
 */
export function useAgreement() {
  const client = useQueryClient();
  useEffect(() => {
    let known: Schemas["ChangeNumber"] | null = null;
    let isAsking = false;
    let unanswered = 0;
    const setSilent = (isSilent: boolean) => client.setQueryData(SILENT, isSilent);
    const ask = async () => {
      if (document.visibilityState !== "visible" || isAsking) return;
      isAsking = true;
      try {
        const data = await api.get("/api/change-number");
        client.setQueryData(["fault"], { fault: data.fault, notices: data.notices });
        const wasSilent = unanswered >= MOST_UNANSWERED;
        setSilent(false);
        // What this window is changing just now is read afresh by itself.
        if (client.isMutating() > 0) return;
        unanswered = 0;
        const isOther = wasSilent || known?.today !== data.today || known?.fault !== data.fault;
        const isNews = known && (isOther || !isAllOwn(known.number, data.number));
        known = data;
        if (isNews) await client.invalidateQueries();
      } catch (error) {
        if (error instanceof NoAnswer) {
          unanswered += 1;
          if (unanswered >= MOST_UNANSWERED) setSilent(true);
        }
        // Where it made a mistake, what is asked for next says so.
        if (!isShutOut(error)) return;
        client.setQueryData(["fault"], null);
        // Not inside any more: the household is asked for, which says so.
        await client.invalidateQueries({ queryKey: HOUSEHOLD.queryKey });
      } finally {
        isAsking = false;
      }
    };
    const timer = setInterval(ask, EVERY);
    document.addEventListener("visibilitychange", ask);
    window.addEventListener("focus", ask);
    void ask();
    return () => {
      clearInterval(timer);
      document.removeEventListener("visibilitychange", ask);
      window.removeEventListener("focus", ask);
    };
  }, [client]);
}
