import { type ReactNode, useEffect, useState } from "react";

interface Props {
  label: ReactNode;
  /** Something is set in it: it opens. It never shuts by itself, whatever is emptied meanwhile. */
  isSet: boolean;
  children: ReactNode;
}

/** Fields that most do without, folded away until one is set or wanted. */
export function Fold({ label, isSet, children }: Props) {
  const [isOpen, setOpen] = useState(isSet);
  useEffect(() => {
    if (isSet) setOpen(true);
  }, [isSet]);
  return (
    <details
      open={isOpen}
      onToggle={(event) => setOpen(event.currentTarget.open)}
      className="border-t border-rule pt-2"
    >
      <summary className="min-h-9 cursor-pointer text-copper">{label}</summary>
      <div className="mt-2 flex flex-col gap-4">{children}</div>
    </details>
  );
}
