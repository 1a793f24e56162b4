import { useQueryClient } from "@tanstack/react-query";
import { useEffect } from "react";
import { api, isAllOwn, isShutOut, type Schemas } from "@/shared/api/client";

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
        const { data, error } = await api.GET("/api/change-number");
        // Not inside any more: the household is asked for, which says so.
        if (isShutOut(error)) await client.invalidateQueries({ queryKey: ["household"] });
        client.setQueryData(["fault"], data ? { fault: data.fault, notices: data.notices } : null);
        // What this window is changing just now is read afresh by itself.
        if (!data || client.isMutating() > 0) return;
        const isNews = known && (known.today !== data.today || !isAllOwn(known.number, data.number));
        known = data;
        if (isNews) await client.invalidateQueries();
      } catch {
        // The app does not answer: what is asked for next says so.
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
