import { Field } from "@/shared/kit/fields/Field";
import { Select } from "@/shared/kit/fields/Select";
import type { LoanForm } from "./loanForm";

const METHODS = [
  { value: "equal_periods", label: "equal periods: rate ÷ payments a year" },
  { value: "actual_365", label: "days ÷ 365" },
  { value: "actual_360", label: "days ÷ 360" },
  { value: "actual_actual", label: "days ÷ 365 or 366" },
  { value: "30_360", label: "30-day months ÷ 360" },
];

interface Props {
  values: LoanForm;
  problem: (field: string) => string | undefined;
  onChange: (method: LoanForm["interest"]) => void;
}

/** How interest is counted from one payment to the next. */
export function MethodField({ values, problem, onChange }: Props) {
  return (
    <Field label="Interest runs by" problem={problem("interest")}>
      {(ids) => (
        <Select
          {...ids}
          value={values.interest}
          options={METHODS}
          onChange={(next) => onChange(next as LoanForm["interest"])}
        />
      )}
    </Field>
  );
}
