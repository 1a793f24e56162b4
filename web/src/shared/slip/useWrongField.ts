/** The first field of a slip that is wrong: gone to, and named. */
import { type RefObject, useEffect, useRef, useState } from "react";

const WRONG = "[aria-invalid=true], fieldset[data-wrong]";

/**
 * Once saving was tried, the first field that is wrong, as soon as it shows: known at once, or refused a little later.
 * Who types meanwhile is left where they are.
 */
export function useWrongField(form: RefObject<HTMLFormElement | null>) {
  const [wasTried, setTried] = useState(false);
  const [named, setNamed] = useState<string | null>(null);
  const [isTyped, setTyped] = useState(false);
  const isLooking = useRef(false);
  useEffect(() => {
    const field = form.current?.querySelector<HTMLElement>(WRONG);
    if (!field) {
      if (named !== null) setNamed(null);
      return;
    }
    if (!isLooking.current) return;
    isLooking.current = false;
    goTo(field);
    setNamed(sentenceOf(field));
  });
  return {
    wasTried,
    isUntouched: !wasTried && !isTyped,
    named,
    onTry: () => {
      isLooking.current = true;
      setTried(true);
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
