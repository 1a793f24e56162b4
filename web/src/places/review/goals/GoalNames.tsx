import type { Schemas } from "@/shared/api/client";
import { ChooseMany } from "@/shared/kit/fields/Choice";
import { FieldGroup } from "@/shared/kit/fields/Field";
import type { GoalForm } from "./GoalSlip";

interface Props {
  values: GoalForm;
  choice: Schemas["GoalChoice"] | undefined;
  names: Map<string, string>;
  problem: string | undefined;
  set: (field: "categories" | "accounts", ids: string[]) => void;
}

const NONE: Record<GoalForm["kind"], string> = {
  earn: "None chosen: all that comes in.",
  save: "None chosen: all savings accounts.",
  repay: "None chosen: all debts.",
  give: "Gifts are told by their categories.",
  spend_at_most: "None chosen: all spending.",
};

/** Which categories or accounts a goal is about; none: all. */
export function GoalNames({ values, choice, names, problem, set }: Props) {
  if (!choice) return null;
  const field = choice.accounts.length > choice.categories.length ? "accounts" : "categories";
  const rest = values[field].filter((id) => !choice[field].includes(id));
  const options = [...choice[field], ...rest].map((id) => ({ value: id, label: names.get(id) ?? id }));
  return (
    <FieldGroup label={field === "accounts" ? "On" : "In"} problem={problem}>
      <ChooseMany
        label={field === "accounts" ? "Accounts" : "Categories"}
        values={values[field]}
        onChange={(ids) => set(field, ids)}
        options={options}
      />
      {values[field].length === 0 && <p className="mt-1 text-sm text-pencil">{NONE[values.kind]}</p>}
    </FieldGroup>
  );
}
