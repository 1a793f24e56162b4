import { useEffect, useRef } from "react";

type Actions = Record<string, () => void>;

const isWriting = (target: EventTarget | null) =>
  target instanceof HTMLElement && (target.isContentEditable || /^(INPUT|TEXTAREA|SELECT)$/.test(target.tagName));

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
      if (!action || isFieldsOwn || event.altKey || event.defaultPrevented) return;
      event.preventDefault();
      action();
    };
    window.addEventListener("keydown", listen);
    return () => window.removeEventListener("keydown", listen);
  }, []);
}
