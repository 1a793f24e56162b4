import { Popover } from "radix-ui";
import type { ReactNode } from "react";
import { WORDS } from "@/shared/words";

interface Props {
  /** The word as it is explained: `Floor`. */
  of: string;
  children: ReactNode;
}

/** A word that is ours, where it first stands: it explains itself when asked. */
export function Term({ of, children }: Props) {
  const meaning = WORDS.find(([word]) => word === of)?.[1];
  return (
    <Popover.Root>
      <Popover.Trigger
        aria-label={`${of}: what it means`}
        className="cursor-help underline decoration-dotted decoration-1 underline-offset-4 [font:inherit]"
      >
        {children}
      </Popover.Trigger>
      <Popover.Portal>
        <Popover.Content
          aria-label={of}
          sideOffset={6}
          collisionPadding={12}
          className="z-50 max-w-80 rounded-sm border border-rule-strong bg-sheet px-3 py-2 text-ink shadow-lg"
        >
          <strong>{of}</strong>: {meaning}
        </Popover.Content>
      </Popover.Portal>
    </Popover.Root>
  );
}
