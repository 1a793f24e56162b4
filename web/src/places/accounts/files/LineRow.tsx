import { dayText, money } from "@/shared/format";
import { Button } from "@/shared/kit/Button";
import { type Choice, isNew, whatOf } from "./choices";
import { SortedAs } from "./SortedAs";
import type { Line } from "./useBankFile";
import { foundText, WhatItIs } from "./WhatItIs";

interface Props {
  line: Line;
  account: string;
  currency: string;
  today: string;
  choice: Choice | undefined;
  /** Where what is new would go, by the rules as they are now. */
  category: string | undefined;
  /** Under which name, where that is not the bank's. */
  name: string | undefined;
  /** What it was found to be is another since the plan was changed. */
  isOther: boolean;
  onChoose: (choice: Choice) => void;
  onRule: (category: string) => void;
}

/** A line of a bank's file: its day, who, how much, and what it is. */
export function LineRow({ line, account, currency, today, choice, category, name, isOther, onChoose, onRule }: Props) {
  const what = whatOf(line, choice);
  const sorted = choice?.category ?? category ?? line.category ?? "";
  return (
    <li className="grid grid-cols-[5.5rem_minmax(0,1fr)_auto] items-baseline gap-x-3 gap-y-1 border-b border-rule py-1.5 @3xl:grid-cols-[6.5rem_minmax(0,1fr)_7rem_minmax(0,26rem)]">
      <span>{dayText(line.date, today)}</span>
      <span className="min-w-0 break-words">
        {line.payee || <span className="text-pencil">no name</span>}
        {name && <span className="block text-sm text-pencil">recorded as {name}</span>}
        {(line.memo || line.number) && (
          <span className="block text-sm text-pencil">{[line.number, line.memo].filter(Boolean).join(" · ")}</span>
        )}
      </span>
      <span className={`text-right whitespace-nowrap ${line.amount > 0 ? "text-teal" : ""}`}>
        {line.amount > 0 && "+"}
        {money(line.amount, currency)}
      </span>
      <span className="col-span-3 flex min-w-0 flex-wrap items-center gap-2 @3xl:col-span-1">
        {line.is === "known" ? (
          <span className="text-pencil">{foundText(line, currency)}</span>
        ) : (
          <span className="min-w-44 flex-1">
            <WhatItIs
              line={line}
              account={account}
              currency={currency}
              value={what}
              onChange={(next) => onChoose({ ...choice, what: next })}
            />
          </span>
        )}
        {isNew(line, choice) && (
          <span className="flex min-w-44 flex-1 items-center gap-1">
            <SortedAs
              line={line}
              currency={currency}
              value={sorted}
              onChange={(next) => onChoose({ ...choice, category: next })}
            />
            {choice?.category && line.payee && (
              <Button look="link" className="!min-h-9 whitespace-nowrap" onClick={() => onRule(choice.category ?? "")}>
                Always so
              </Button>
            )}
          </span>
        )}
        {line.offered && what !== "same" && (
          <span className="w-full text-sm text-pencil">Perhaps {foundText(line, currency)}</span>
        )}
        {isOther && <span className="w-full text-sm text-rust">What it was found to be has changed: look again.</span>}
      </span>
    </li>
  );
}
