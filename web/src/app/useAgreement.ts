import { useQueryClient } from "@tanstack/react-query";
import { useEffect } from "react";
import { api, isAllOwn, isShutOut, type Schemas } from "@/shared/api/client";
import { HOUSEHOLD } from "@/shared/api/hooks";

const EVERY = 2000;

/** While this window is looked at, what others change is shown within two seconds. */
export function useAgreement() {
  const client = useQueryClient();
  useEffect(() => {
    let known: Schemas["ChangeNumber"] | null = null;
    let isAsking = false;
    const ask = async () => {
      if (document.visibilityState !== "visible" || isAsking) return;
      isAsking = true;
      try {
        const data = await api.get("/api/change-number");
        client.setQueryData(["fault"], { fault: data.fault, notices: data.notices });
        // What this window is changing just now is read afresh by itself.
        if (client.isMutating() > 0) return;
        const isOther = known?.today !== data.today || known?.fault !== data.fault;
        const isNews = known && (isOther || !isAllOwn(known.number, data.number));
        known = data;
        if (isNews) await client.invalidateQueries();
      } catch (error) {
        // Where the app does not answer, what is asked for next says so.
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
