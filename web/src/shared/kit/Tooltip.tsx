import { Tooltip as Primitive } from "radix-ui";
import type { ReactElement } from "react";

export const TooltipProvider = Primitive.Provider;

export function Tooltip({ text, children }: { text: string; children: ReactElement }) {
  return (
    <Primitive.Root>
      <Primitive.Trigger asChild>{children}</Primitive.Trigger>
      <Primitive.Portal>
        <Primitive.Content
          sideOffset={6}
          className="z-50 max-w-72 rounded-sm bg-ink px-2.5 py-1.5 text-sm text-paper shadow-lg"
        >
          {text}
        </Primitive.Content>
      </Primitive.Portal>
    </Primitive.Root>
  );
}
