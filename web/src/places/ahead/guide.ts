/** Whether the guide to the first hour is shown: until the household says it is done, or when it is asked for. */
import { useSyncExternalStore } from "react";

const KEY = "guide";
type State = "done" | "shown" | null;
const listeners = new Set<() => void>();

function read(): State {
  try {
    return localStorage.getItem(KEY) as State;
  } catch {
    return null;
  }
}

function write(state: "done" | "shown") {
  try {
    localStorage.setItem(KEY, state);
  } catch {
    // It comes again next time.
  }
  for (const listener of listeners) listener();
}

export const finishGuide = () => write("done");
export const showGuide = () => write("shown");

export function useGuide(): State {
  return useSyncExternalStore((listener) => {
    listeners.add(listener);
    return () => listeners.delete(listener);
  }, read);
}
