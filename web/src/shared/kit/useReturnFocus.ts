import { useState } from "react";

/** For a dialog that no button of its own opened: once it is closed, the focus is where it was, if nobody took it. */
export function useReturnFocus() {
  const [before] = useState(() => document.activeElement);
  return (event: Event) => {
    event.preventDefault();
    if (document.activeElement === document.body && before instanceof HTMLElement)
      before.focus({ preventScroll: true });
  };
}
