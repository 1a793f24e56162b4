import { useSyncExternalStore } from "react";

const NARROW = "(max-width: 767px)";

/** Whether the window is as narrow as a phone: there a slip covers all. */
export function useIsPhone(): boolean {
  return useSyncExternalStore(
    (listener) => {
      const narrow = window.matchMedia(NARROW);
      narrow.addEventListener("change", listener);
      return () => narrow.removeEventListener("change", listener);
    },
    () => window.matchMedia(NARROW).matches,
  );
}
