import { X } from "lucide-react";
import { useEntryChoices } from "@/shared/api/hooks";
import { counted, dayText, money } from "@/shared/format";
import { Button } from "@/shared/kit/Button";
import type { Rule } from "./choices";
import type { ImportRequest } from "./useBankFile";
import { useEffectOf } from "./useBankFile";

interface Props {
  request: ImportRequest;
  rules: Rule[];
  today: string;
  problem: Error | null;
  isSaving: boolean;
  onForget: (rule: Rule) => void;
  onTake: () => void;
  onLeave: () => void;
}

/** What taking the lines in would do, the rules made on the way, and doing it. */
export function Chosen({ request, rules, today, problem, isSaving, onForget, onTake, onLeave }: Props) {
  const effect = useEffectOf(request).data;
  const names = new Map((useEntryChoices().data?.categories ?? []).map(({ id, name }) => [id, name]));
  const count = (request.statements ?? []).flatMap(({ lines }) => lines ?? []).filter(({ take }) => take).length;
  return (
    <div className="mt-4 border-t border-rule-strong bg-paper py-2 md:sticky md:bottom-0">
      {rules.length > 0 && (
        <ul aria-label="New rules" className="flex flex-wrap gap-x-4 text-sm">
          {rules.map((rule) => (
            <li key={rule.id} className="flex items-center gap-1">
              “{rule.contains}” always to {names.get(rule.category) ?? "its category"}
              <button
                type="button"
                aria-label={`Do not keep the rule for ${rule.contains}`}
                className="grid size-8 place-items-center rounded-sm hover:bg-hover"
                onClick={() => onForget(rule)}
              >
                <X size={15} aria-hidden />
              </button>
            </li>
          ))}
        </ul>
      )}
      <ul aria-label="What taking them in does" className="text-sm">
        {effect?.accounts.map((oneAccount) => (
          <li key={oneAccount.account}>
            {oneAccount.before !== null && oneAccount.after !== null && (
              <>
                Lowest ahead {money(oneAccount.before, oneAccount.currency)}
                {oneAccount.before === oneAccount.after
                  ? ", as before"
                  : `, then ${money(oneAccount.after, oneAccount.currency)}`}
                .{" "}
              </>
            )}
            {oneAccount.closing &&
              oneAccount.difference === 0 &&
              `On ${dayText(oneAccount.closing.date, today)} it agrees with the bank.`}
            {oneAccount.closing && oneAccount.difference !== 0 && (
              <span className="text-rust">
                On {dayText(oneAccount.closing.date, today)} the bank held{" "}
                {money(oneAccount.closing.balance, oneAccount.currency)}, the books then{" "}
                {money(oneAccount.books ?? 0, oneAccount.currency)}.
              </span>
            )}
          </li>
        ))}
      </ul>
      {problem && (
        <p role="alert" className="text-rust">
          {problem.message}
        </p>
      )}
      <p className="mt-1 flex flex-wrap gap-2">
        <Button look="main" disabled={isSaving} onClick={onTake}>
          {isSaving ? "Taking in…" : `Take in ${counted(count)} ${count === 1 ? "line" : "lines"}`}
        </Button>
        <Button onClick={onLeave}>Leave the file</Button>
      </p>
    </div>
  );
}
