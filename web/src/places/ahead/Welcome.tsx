import { Check } from "lucide-react";
import type { ReactNode } from "react";
import type { Schemas } from "@/shared/api/client";
import { Button } from "@/shared/kit/Button";
import { useView } from "@/shared/view";

interface Props {
  accounts: Schemas["AccountRow"][];
  flows: Schemas["FlowRow"][];
}

/** The way in: what you have, when you are paid, what you pay. The tideline draws itself as they come in. */
export function Welcome({ accounts, flows }: Props) {
  const { openSlip } = useView();
  const hasIncome = flows.some(({ flow }) => flow.kind === "income");
  const hasBill = flows.some(({ flow }) => flow.kind === "bill");
  const next = accounts.length === 0 ? 0 : hasIncome ? 2 : 1;
  return (
    <section aria-label="Getting started" className="mx-auto mb-6 max-w-2xl py-4">
      <h2 className="mb-1 text-2xl">Will it last until payday?</h2>
      <p className="mb-5 text-lg text-pencil">Three things to write down, and you will see it day by day.</p>
      <ol className="border-t border-rule">
        <Step
          isDone={accounts.length > 0}
          isNext={next === 0}
          title="What you have today"
          text="One account and its balance is enough to begin."
        >
          <Button look={next === 0 ? "main" : "plain"} onClick={() => openSlip("account", null)}>
            {accounts.length ? "Add another account" : "Add your first account"}
          </Button>
        </Step>
        <Step isDone={hasIncome} isNext={next === 1} title="Your next payday" text="How much comes in, and how often.">
          <Button
            look={next === 1 ? "main" : "plain"}
            disabled={next < 1}
            onClick={() => openSlip("flow", null, "income")}
          >
            {hasIncome ? "Add more income" : "Add a payday"}
          </Button>
        </Step>
        <Step isDone={hasBill} isNext={next === 2} title="Your bills" text="Rent first, then whatever comes to mind.">
          <Button
            look={next === 2 ? "main" : "plain"}
            disabled={next < 1}
            onClick={() => openSlip("flow", null, "bill")}
          >
            Add a bill
          </Button>
        </Step>
      </ol>
    </section>
  );
}

interface StepProps {
  isDone: boolean;
  isNext: boolean;
  title: string;
  text: string;
  children: ReactNode;
}

function Step({ isDone, isNext, title, text, children }: StepProps) {
  return (
    <li
      className="flex flex-wrap items-center gap-x-4 gap-y-2 border-b border-rule py-3"
      aria-current={isNext ? "step" : undefined}
    >
      <span className="grid size-6 place-items-center">
        {isDone ? (
          <Check size={20} aria-label="Done" />
        ) : (
          <span aria-hidden className="size-2.5 rotate-45 border border-pencil" />
        )}
      </span>
      <div className="min-w-48 flex-1">
        <h3 className={isDone ? "text-base" : "text-base italic"}>{title}</h3>
        <p className="text-sm text-pencil">{text}</p>
      </div>
      {children}
    </li>
  );
}
