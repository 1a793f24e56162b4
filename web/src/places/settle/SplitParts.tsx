import { amountOr, type Fields, readFields } from "@/shared/fields";
import { digits } from "@/shared/format";
import { Field } from "@/shared/kit/fields/Field";
import { z } from "@/shared/zod";
import type { Due, SettleLine } from "./useSettle";

const PARTS = ["interest", "principal", "escrow", "insurance"] as const;
type Part = (typeof PARTS)[number];
export type SplitForm = Record<Part, string>;

export const BLANK_SPLIT: SplitForm = { interest: "", principal: "", escrow: "", insurance: "" };

type Split = NonNullable<SettleLine["split"]>;

/** What was typed of a split; nothing where it is as proposed. */
export function readSplit(form: SplitForm, currency: string): Fields<{ split?: Split }> {
  const read = readFields(z.record(z.enum(PARTS), amountOr(null, currency)), form);
  if ("problems" in read) return read;
  const typed = Object.entries(read.value).filter(([, amount]) => amount !== null);
  return { value: typed.length > 0 ? { split: Object.fromEntries(typed) as Split } : {} };
}

interface Props {
  proposed: NonNullable<Due["split"]>;
  values: SplitForm;
  currency: string;
  problem: string | undefined;
  onChange: (values: SplitForm) => void;
}

/** The parts of a loan's payment: as proposed, or typed over from the statement. */
export function SplitParts({ proposed, values, currency, problem, onChange }: Props) {
  return (
    <div className="flex w-full flex-wrap items-end gap-3">
      {PARTS.filter((part) => proposed[part] !== 0 || part === "principal" || part === "interest").map((part) => (
        <Field key={part} label={part[0]?.toUpperCase() + part.slice(1)} className="w-32">
          {(ids) => (
            <input
              {...ids}
              inputMode="decimal"
              placeholder={digits(proposed[part], currency)}
              value={values[part]}
              onChange={(event) => onChange({ ...values, [part]: event.target.value })}
              className="field text-right placeholder:text-pencil placeholder:italic"
            />
          )}
        </Field>
      ))}
      <p className={`pb-2 text-sm ${problem ? "text-rust" : "text-pencil"}`}>
        {problem ?? "Proposed; type over what the statement says, and principal takes up the difference."}
      </p>
    </div>
  );
}
