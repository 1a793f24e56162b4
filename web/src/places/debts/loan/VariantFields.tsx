import type { ReactNode } from "react";
import { RHYTHMS } from "@/places/debts/slip/LoanFields";
import type { Schemas } from "@/shared/api/client";
import { useHousehold } from "@/shared/api/hooks";
import { digits, readAmount } from "@/shared/format";
import { Select } from "@/shared/kit/fields/Select";
import type { VariantForm } from "./variants";

type Outcome = Schemas["OutcomeModel"];

interface VariantRowProps {
  label: string;
  forms: VariantForm[];
  base?: ReactNode;
  children: (form: VariantForm, place: number) => ReactNode;
}

/** A row of what can be varied: how it is, and a field for each variant. */
function VariantRow({ label, forms, base, children }: VariantRowProps) {
  return (
    <tr className="border-t border-rule">
      <th scope="row" className="py-1 pr-3 text-left font-normal text-pencil">
        {label}
      </th>
      <td className="pl-3 text-right text-pencil">{base}</td>
      {forms.map((form, place) => (
        // biome-ignore lint/suspicious/noArrayIndexKey: variants have no identity but their place
        <td key={place} className="py-1 pl-3">
          {children(form, place)}
        </td>
      ))}
    </tr>
  );
}

interface Props {
  forms: VariantForm[];
  base: Outcome | undefined;
  extraMost: number;
  currency: string;
  /** Only tried: then another sum may be borrowed. */
  isTried: boolean;
  set: (place: number, part: Partial<VariantForm>) => void;
}

/** The fields of the variants; empty means as it is. */
export function VariantFields({ forms, set, base, extraMost, currency, isTried }: Props) {
  const field = (
    name: "principal" | "rate" | "payments" | "payment" | "balloon" | "fees",
    label: string,
    shown = true,
  ) =>
    shown && (
      <VariantRow label={label} forms={forms} base={name === "payments" ? base?.payments : ""}>
        {(form, place) =>
          (name !== "fees" || form.refinance) && (
            <input
              aria-label={`${label}, variant ${place + 1}`}
              inputMode="decimal"
              placeholder="as it is"
              value={form[name]}
              onChange={(event) => set(place, { [name]: event.target.value })}
              className="field !min-h-9 text-right"
            />
          )
        }
      </VariantRow>
    );
  return (
    <>
      {field("principal", "Borrowed", isTried)}
      <ExtraRow forms={forms} set={set} most={extraMost} currency={currency} />
      <LumpRow forms={forms} set={set} />
      {field("rate", "Rate, % a year")}
      {field("payments", "Payments left")}
      <VariantRow label="Paid" forms={forms}>
        {(form, place) => (
          <Select
            label={`Paid, variant ${place + 1}`}
            value={form.rhythm}
            options={[
              { value: "", label: "as it is" },
              ...RHYTHMS,
              { value: "26a", label: "half the monthly, every 2 weeks" },
              { value: "52a", label: "a quarter of it, every week" },
            ]}
            onChange={(rhythm) => set(place, { rhythm })}
            className="field !min-h-9"
          />
        )}
      </VariantRow>
      {field("payment", "Another payment")}
      {field("balloon", "Balloon at the end")}
      <VariantRow label="Refinance" forms={forms}>
        {(form, place) => (
          <div className="text-right">
            <label className="inline-flex min-h-9 items-center gap-2">
              a new loan
              <input
                type="checkbox"
                aria-label={`Refinance, variant ${place + 1}`}
                checked={form.refinance}
                onChange={(event) => set(place, { refinance: event.target.checked })}
                className="size-4.5 accent-(--ink)"
              />
            </label>
          </div>
        )}
      </VariantRow>
      {field(
        "fees",
        "Cost of refinancing",
        forms.some((form) => form.refinance),
      )}
    </>
  );
}

interface ExtraRowProps {
  forms: VariantForm[];
  set: (place: number, part: Partial<VariantForm>) => void;
  most: number;
  currency: string;
}

/** The extra with every payment, to be typed or dragged. */
function ExtraRow({ forms, set, most, currency }: ExtraRowProps) {
  return (
    <VariantRow label="Extra with each" forms={forms}>
      {(form, place) => {
        const read = readAmount(form.extra || "0", currency);
        const amount = "amount" in read ? Math.max(0, read.amount) : 0;
        return (
          <>
            <input
              aria-label={`Extra, variant ${place + 1}`}
              inputMode="decimal"
              placeholder="none"
              value={form.extra}
              onChange={(event) => set(place, { extra: event.target.value })}
              className="field !min-h-9 text-right"
            />
            <input
              type="range"
              aria-label={`Extra, variant ${place + 1}, by dragging`}
              min={0}
              max={most}
              step={most / 100}
              value={Math.min(most, amount)}
              onChange={(event) => set(place, { extra: plain(Number(event.target.value), currency) })}
              className="mt-1 block h-6 w-full accent-(--copper)"
            />
          </>
        );
      }}
    </VariantRow>
  );
}

/** Minor units as one would type them. */
const plain = (amount: number, currency: string) => (amount ? digits(Math.round(amount), currency) : "");

/** A sum once, on a day. */
function LumpRow({ forms, set }: Pick<Props, "forms" | "set">) {
  const today = useHousehold().data?.today ?? "";
  return (
    <VariantRow label="Once, on a day" forms={forms}>
      {(form, place) => (
        <>
          <input
            aria-label={`A sum once, variant ${place + 1}`}
            inputMode="decimal"
            placeholder="none"
            value={form.lump}
            onChange={(event) => set(place, { lump: event.target.value, lump_on: form.lump_on || today })}
            className="field !min-h-9 text-right"
          />
          {form.lump.trim() !== "" && (
            <input
              type="date"
              aria-label={`On which day, variant ${place + 1}`}
              value={form.lump_on}
              onChange={(event) => set(place, { lump_on: event.target.value })}
              className="field mt-1 !min-h-9"
            />
          )}
        </>
      )}
    </VariantRow>
  );
}
