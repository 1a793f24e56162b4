import { useEffect } from "react";
import { useLocation } from "react-router";

/** What a person may have been on: where it stood, and what it is called. */
interface Place {
  element: HTMLElement;
  name: string;
  at: number;
}

const MOST = 12;
const REACHED = "a[href], button:not(:disabled)";

/**
 * What has the focus may vanish: a form that was sent, a line that was taken back, a row that was deleted. The focus
 * then goes back to where one came from, else to what now stands there, so that nobody begins again at the top.
 */
export function useFocusKept() {
  const { pathname } = useLocation();
  // biome-ignore lint/correctness/useExhaustiveDependencies: another page is begun anew
  useEffect(() => {
    const page = document.getElementById("page");
    if (!page) return;
    const places: Place[] = [];
    let isOurs = false;
    const onFocus = ({ target }: FocusEvent) => {
      // Where the focus was put meanwhile is not where a person was.
      if (isOurs || !(target instanceof HTMLElement)) return;
      places.push({ element: target, name: nameOf(target), at: reached(page).indexOf(target) });
      if (places.length > MOST) places.shift();
    };
    const look = () => {
      const last = places.at(-1);
      if (document.activeElement !== document.body || !last || last.element.isConnected) return;
      isOurs = true;
      whereTo(places, reached(page))?.focus({ preventScroll: true });
      isOurs = false;
    };
    // Whoever takes the focus of their own accord does so first.
    const observer = new MutationObserver(() => {
      if (document.activeElement === document.body) requestAnimationFrame(() => requestAnimationFrame(look));
    });
    page.addEventListener("focusin", onFocus);
    observer.observe(page, { childList: true, subtree: true });
    return () => {
      page.removeEventListener("focusin", onFocus);
      observer.disconnect();
    };
  }, [pathname]);
}

/** Where one was last, as far as that is still there; else what now stands where one was. */
function whereTo(places: Place[], there: HTMLElement[]): HTMLElement | undefined {
  for (const { element, name } of places.toReversed()) {
    const isSame = (reachable: HTMLElement) => name !== "" && nameOf(reachable) === name && isSeen(reachable);
    const same = element.isConnected ? element : there.find(isSame);
    if (same) return same;
  }
  const at = Math.max(0, places.at(-1)?.at ?? 0);
  return there.slice(at).find(isSeen) ?? there.slice(0, at).findLast(isSeen);
}

const reached = (page: HTMLElement) => [...page.querySelectorAll<HTMLElement>(REACHED)];

// Asked of few only: where it is not known yet, the page is laid out to tell.
const isSeen = (reachable: HTMLElement) => reachable.getClientRects().length > 0;

const nameOf = (element: HTMLElement) =>
  element.matches(REACHED) ? element.getAttribute("aria-label") || element.textContent || "" : "";
