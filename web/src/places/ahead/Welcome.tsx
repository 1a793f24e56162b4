import { Check } from "lucide-react";
import { useEffect, useRef } from "react";
import type { Schemas } from "@/shared/api/client";
import { Button } from "@/shared/kit/Button";
import { type SlipAddress, useView } from "@/shared/view";
import { BillLine } from "./BillLine";
import { finishGuide } from "./guide";

interface Props {
  accounts: Schemas["AccountRow"][];
  flows: Schemas["FlowRow"][];
  allowances: number;
}

interface Step {
  title: string;
  text: string;
  isDone: boolean;
  /** What its button says at first, and once there is one. */
  add: [string, string];
  slip: [SlipAddress["kind"], string];
  /** What else the step is about: its button, and its slip. */
  also?: [string, SlipAddress["kind"], string];
}

/** The way in: what you have, what comes, what you pay. It stays until the household says that all is there. */
export function Welcome({ accounts, flows, allowances }: Props) {
  const { openSlip } = useView();
  const steps = stepsOf(accounts, flows, allowances);
  const next = steps.findIndex((step) => !step.isDone);
  const isBeginning = accounts.length === 0;
  const list = useRef<HTMLOListElement>(null);
  const before = useRef(next);
  // What was just saved leads on to the next step, unless another of the same is being written.
  useEffect(() => {
    // Whoever writes one bill after another is not led away from the line.
    const isWriting = document.activeElement instanceof HTMLInputElement;
    if (before.current !== next && !isWriting && !document.querySelector("[data-slip]"))
      list.current?.querySelector<HTMLElement>("[aria-current] button")?.focus({ preventScroll: true });
    before.current = next;
  }, [next]);
  return (
    <section aria-label="Getting started" className="mx-auto mb-6 max-w-2xl py-4">
      <h2 className="mb-1 text-2xl">Will it last until payday?</h2>
      <p className="mb-5 text-lg text-pencil">
        {isBeginning
          ? "Write down what you have, what comes in and what you pay, and you will see it day by day."
          : "The more of it is here, the truer the days ahead. Add several in a row; leave out what you do not have."}
      </p>
      <ol ref={list} className="border-t border-rule">
        {steps.map((step, place) => (
          <li
            key={step.title}
            className="flex flex-wrap items-center gap-x-4 gap-y-2 border-b border-rule py-3"
            aria-current={place === next ? "step" : undefined}
          >
            <span className="grid size-6 place-items-center">
              {step.isDone ? (
                <Check size={20} aria-label="Done" />
              ) : (
                <span aria-hidden className="size-2.5 rotate-45 border border-pencil" />
              )}
            </span>
            <div className="min-w-48 flex-1">
              <h3 className={step.isDone ? "text-base" : "text-base italic"}>{step.title}</h3>
              <p className="text-sm text-pencil">{step.text}</p>
            </div>
            <Button
              look={place === next ? "main" : "plain"}
              disabled={isBeginning && place > 0}
              onClick={() => openSlip(step.slip[0], null, step.slip[1])}
            >
              {step.add[step.isDone ? 1 : 0]}
            </Button>
            {step.also && <AlsoButton also={step.also} isOff={isBeginning} />}
            {step.slip[1] === "bill" && !isBeginning && <BillLine />}
          </li>
        ))}
      </ol>
      {!isBeginning && (
        <p className="mt-3 flex flex-wrap items-center gap-x-3">
          <Button onClick={finishGuide}>That is all of it</Button>
          <span className="text-sm text-pencil">“Show the guide” in Find or do brings this back.</span>
        </p>
      )}
    </section>
  );
}

function AlsoButton({ also: [name, kind, start], isOff }: { also: NonNullable<Step["also"]>; isOff: boolean }) {
  const { openSlip } = useView();
  return (
    <Button disabled={isOff} onClick={() => openSlip(kind, null, start)}>
      {name}
    </Button>
  );
}

function stepsOf(accounts: Props["accounts"], flows: Props["flows"], allowances: number): Step[] {
  const has = (kind: string) => flows.some(({ flow }) => flow.kind === kind);
  const holds = (...kinds: string[]) => accounts.some(({ account }) => kinds.includes(account.kind));
  return [
    {
      title: "What you have today",
      text: "One account and its balance is enough to begin.",
      isDone: accounts.length > 0,
      add: ["Add your first account", "Add another account"],
      slip: ["account", ""],
    },
    {
      title: "Your next payday",
      text: "How much comes in, and how often.",
      isDone: has("income"),
      add: ["Add a payday", "Add more income"],
      slip: ["flow", "income"],
    },
    {
      title: "Your bills",
      text: "Rent first, then whatever comes to mind.",
      isDone: has("bill"),
      add: ["Add a bill", "Add another bill"],
      slip: ["flow", "bill"],
    },
    {
      title: "Everyday spending",
      text: "A limit for groceries and the like: it is held back day by day.",
      isDone: allowances > 0,
      add: ["Add an allowance", "Add another allowance"],
      slip: ["allowance", ""],
    },
    {
      title: "What you owe",
      text: "A loan, a card or a credit line, with its rate and payment.",
      isDone: holds("loan", "credit_card", "credit_line"),
      add: ["Add a loan", "Add another loan"],
      slip: ["loan", ""],
      also: ["Add a card", "account", "credit_card"],
    },
    {
      title: "What you put by",
      text: "Savings, and what goes there each month.",
      isDone: holds("savings"),
      add: ["Add a savings account", "Add another savings account"],
      slip: ["account", "savings"],
    },
  ];
}
