import { useEffect, useRef } from "react";

type Actions = Record<string, () => void>;

const isWriting = (target: EventTarget | null) =>
  target instanceof HTMLElement && (target.isContentEditable || /^(INPUT|TEXTAREA|SELECT)$/.test(target.tagName));

/** What has the keys to itself while it is open: a dialog, a list, a menu. */
const OPEN = "[role=dialog], [role=listbox], [role=menu]";

/** Whether keys belong to a slip, an open list or a dialog, and not to the whole page. */
function isElsewhere(target: EventTarget | null): boolean {
  if (document.querySelector(OPEN)) return true;
  if (!document.querySelector("[data-slip]")) return false;
  // With a slip open, only what has the focus on the page itself is meant for the page.
  return !(target instanceof Element && target.closest("#page, nav, header, section[aria-label=Tideline]"));
}

/** Keys for the whole page. `Ctrl+` ones work in fields too, except undo, which there belongs to the field. */
export function useShortcuts(actions: Actions) {
  const current = useRef(actions);
  current.current = actions;
  useEffect(() => {
    const listen = (event: KeyboardEvent) => {
      const control = event.ctrlKey || event.metaKey;
      const name = `${control ? "Ctrl+" : ""}${control && event.shiftKey ? "Shift+" : ""}${event.key.length === 1 ? event.key.toLowerCase() : event.key}`;
      const isFieldsOwn = isWriting(event.target) && (!control || /z$/.test(name));
      const action = current.current[name];
      if (!action || isFieldsOwn || event.altKey || event.defaultPrevented || isElsewhere(event.target)) return;
      event.preventDefault();
      action();
    };
    window.addEventListener("keydown", listen);
    return () => window.removeEventListener("keydown", listen);
  }, []);
}
