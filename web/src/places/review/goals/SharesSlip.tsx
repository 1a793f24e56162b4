import { keepPreviousData } from "@tanstack/react-query";
import { useMemo } from "react";
import type { UseFormRegisterReturn } from "react-hook-form";
import { type ChangeRequest, server } from "@/shared/api/client";
import { money, rateText, readRate } from "@/shared/format";
import { ChooseOne } from "@/shared/kit/fields/Choice";
import { FieldGroup } from "@/shared/kit/fields/Field";
import { Slip } from "@/shared/slip/Slip";
import { useSlip } from "@/shared/slip/useSlip";
import { useSlipForm } from "@/shared/slip/useSlipForm";
import { type Goal, type GoalKind, useGoals } from "./useGoals";

interface Line {
  id: string;
  name: string;
  kind: GoalKind;
  isNew: boolean;
  share: string;
}

interface Form {
  per: "month" | "year";
  month: Line[];
  year: Line[];
}

/** What most share their income out to, where no goal says so yet. */
const USUAL: readonly { name: string; kind: GoalKind }[] = [
  { name: "Put by", kind: "save" },
  { name: "Pay off", kind: "repay" },
  { name: "Live on", kind: "spend_at_most" },
];

/** Shares of income side by side: what they come to, and what is left of 100. */
export function SharesSlip() {
  const goals = useGoals().data;
  if (!goals) return null;
  return <Editor goals={goals} />;
}

function linesOf(goals: Goal[], per: "month" | "year"): Line[] {
  const present = goals
    .filter(({ goal }) => goal.per === per && goal.share != null && goal.kind !== "earn")
    .map(({ goal }) => ({ id: goal.id, name: goal.name, kind: goal.kind, isNew: false, share: rateText(goal.share) }));
  const missing = USUAL.filter(({ kind }) => !present.some((line) => line.kind === kind));
  return [...present, ...missing.map((oneShare) => ({ ...oneShare, id: crypto.randomUUID(), isNew: true, share: "" }))];
}

function Editor({ goals }: { goals: Goal[] }) {
  const initial = useMemo<Form>(
    () => ({ per: "month", month: linesOf(goals, "month"), year: linesOf(goals, "year") }),
    [goals],
  );
  const { form, values, set } = useSlipForm(initial);
  const lines = values[values.per];
  const before = initial[values.per];
  const read = lines.map(({ share }) => (share.trim() ? readRate(share) : { rate: "0" }));
  const wrong = read.findIndex((oneShare) => "problem" in oneShare);
  const answered = useTold(
    values.per,
    wrong < 0 ? read.map((oneShare) => ("rate" in oneShare ? oneShare.rate : "0")) : null,
  );
  const changes = wrong < 0 ? changesOf(lines, before, values.per) : [];
  const slip = useSlip(changes.length > 0 ? changes : null, () => true);
  const onSave = () => {
    slip.trySaving();
    if (changes.length > 0) slip.save(changes, "Saved");
    else form.setFocus(`${values.per}.${Math.max(0, wrong)}.share`);
  };
  return (
    <Slip
      title="Share out the income"
      saveName="Save the shares"
      isSaving={slip.isSaving}
      problem={slip.problem("share") ?? slip.otherProblem([])}
      onSave={onSave}
    >
      <FieldGroup label="Of each">
        <ChooseOne
          label="Period"
          value={values.per}
          onChange={(per) => set("per", per as Form["per"])}
          options={[
            { value: "month", label: "month's income" },
            { value: "year", label: "year's income" },
          ]}
        />
      </FieldGroup>
      <div className="flex flex-col gap-1.5">
        {lines.map((line, place) => (
          <ShareField
            key={line.id}
            line={line}
            problem={problemOf(read[place])}
            amount={answered && line.share.trim() ? money(answered.amounts[place] ?? 0, answered.currency) : ""}
            field={form.register(`${values.per}.${place}.share`)}
          />
        ))}
      </div>
      {answered && <output className="font-semibold">{answered.sentence}</output>}
    </Slip>
  );
}

const problemOf = (read: ReturnType<typeof readRate> | undefined) =>
  read && "problem" in read ? read.problem : undefined;

interface FieldProps {
  line: Line;
  problem: string | undefined;
  amount: string;
  field: UseFormRegisterReturn;
}

/** One share in its row, and what it comes to. */
function ShareField({ line, problem, amount, field }: FieldProps) {
  const id = `share-${line.id}`;
  return (
    <div className="grid grid-cols-[minmax(0,1fr)_5rem_auto_6.5rem] items-center gap-x-2">
      <label htmlFor={id} className="min-w-0">
        {line.name}
      </label>
      <input
        id={id}
        aria-invalid={problem !== undefined}
        aria-describedby={`${id}-note`}
        inputMode="decimal"
        autoComplete="off"
        {...field}
        className="field !min-h-9 text-right"
      />
      <span aria-hidden="true">%</span>
      <span id={`${id}-note`} className={`text-right text-sm ${problem ? "text-rust" : "text-pencil"}`}>
        {problem ?? amount}
      </span>
    </div>
  );
}

/** What the shares come to, as the app adds them up. */
function useTold(per: "month" | "year", shares: string[] | null) {
  return server.useQuery(
    "post",
    "/api/goals/shares",
    { body: { per, shares: shares ?? [] } },
    { enabled: shares !== null, retry: false, placeholderData: keepPreviousData },
  ).data;
}

/** Goals whose share is another, those that are new, and those whose share was taken away. */
function changesOf(lines: Line[], before: Line[], per: "month" | "year"): ChangeRequest[] {
  return lines.flatMap((line, place): ChangeRequest[] => {
    const read = readRate(line.share);
    if (line.share.trim() === (before[place]?.share ?? "")) return [];
    if (!line.share.trim()) return [{ op: "remove", kind: "goal", id: line.id }];
    if ("problem" in read) return [];
    const { name, kind } = line;
    if (line.isNew) return [{ op: "add", kind: "goal", id: line.id, value: { name, kind, per, share: read.rate } }];
    return [{ op: "update", kind: "goal", id: line.id, value: { share: read.rate } }];
  });
}
