import { Popover } from "radix-ui";
import { useState } from "react";
import { type Schemas, server } from "@/shared/api/client";

export type Figure = Schemas["WhyRequest"]["figure"];

/** Whose schedule it is: a loan of the household, or terms that are only tried. */
export type Source = { account: string } | { loan: Schemas["Loan"]; currency: string };

interface Props {
  source: Source;
  number: number;
  figure: Figure;
  label: string;
  text: string;
}

/** A figure that says, when asked, the sum that made it. */
export function Why({ source, number, figure, label, text }: Props) {
  const [isOpen, setOpen] = useState(false);
  const said = server.useQuery(
    "post",
    "/api/debts/why",
    { body: { currency: "USD", ...source, number, figure } },
    { enabled: isOpen },
  );
  return (
    <Popover.Root open={isOpen} onOpenChange={setOpen}>
      <Popover.Trigger
        aria-label={`${label} of payment ${number}, ${text}: why`}
        className="rounded-sm px-1 hover:bg-hover hover:underline hover:decoration-dotted hover:underline-offset-4"
      >
        {text}
      </Popover.Trigger>
      <Popover.Portal>
        <Popover.Content
          sideOffset={4}
          collisionPadding={8}
          aria-label={`Why ${label.toLowerCase()} of payment ${number}`}
          className="z-50 max-w-96 rounded-sm border border-rule-strong bg-sheet px-4 py-3 shadow-lg outline-none"
        >
          <p>{said.data?.text ?? said.error?.message ?? "…"}</p>
        </Popover.Content>
      </Popover.Portal>
    </Popover.Root>
  );
}
