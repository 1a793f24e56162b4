/** The first field of a slip that is wrong: gone to, and named. */
import { type RefObject, useEffect, useRef, useState } from "react";

const WRONG = "[aria-invalid=true], fieldset[data-wrong]";

/**
 * Each time that saving was tried, the first field that is wrong, as soon as it shows: known at once, or refused a
 * little later. Who types meanwhile is left where they are.
 */
export function useWrongField(form: RefObject<HTMLFormElement | null>) {
  // Counted, so that each try looks anew though nothing else has changed.
  const [tries, setTries] = useState(0);
  const [named, setNamed] = useState<string | null>(null);
  const [isTyped, setTyped] = useState(false);
  const isLooking = useRef(false);
  const about = useRef<HTMLElement | null>(null);
  useEffect(() => {
    const field = form.current?.querySelector<HTMLElement>(WRONG);
    if (field && isLooking.current) {
      isLooking.current = false;
      about.current = field;
      goTo(field);
    }
    // What was said of a field goes with what was wrong there, whatever else is wrong.
    const still = about.current;
    setNamed(still?.isConnected && still.matches(WRONG) ? sentenceOf(still) : null);
  });
  return {
    isUntouched: tries === 0 && !isTyped,
    named,
    onTry: () => {
      isLooking.current = true;
      setTries((count) => count + 1);
    },
    onType: () => {
      isLooking.current = false;
      setTyped(true);
    },
  };
}

function goTo(field: HTMLElement) {
  // Who has opened a list meanwhile is further on.
  if (document.querySelector("[role=listbox]")) return;
  field.closest("details")?.setAttribute("open", "");
  // Of several controls under one name, the first.
  const control = field.matches("fieldset") ? field.querySelector<HTMLElement>("button, input") : field;
  control?.focus();
  field.scrollIntoView({ block: "nearest" });
}

/** Which field it is, and what is wrong with it. */
function sentenceOf(field: HTMLElement): string | null {
  const name = nameOf(field);
  const note = document.getElementById(field.getAttribute("aria-describedby") ?? "")?.textContent;
  return name ? `Not saved yet. ${name}: ${note ?? "look at it again"}` : null;
}

function nameOf(field: HTMLElement): string {
  if (field.matches("fieldset")) return field.querySelector("legend")?.textContent ?? "";
  const label = field.id ? document.querySelector(`label[for="${CSS.escape(field.id)}"]`) : null;
  return label?.textContent ?? field.getAttribute("aria-label") ?? "";
}
