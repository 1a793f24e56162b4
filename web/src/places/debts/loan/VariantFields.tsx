import { type ReactNode, useId } from "react";
import { RHYTHMS } from "@/places/debts/slip/LoanFields";
import type { Schemas } from "@/shared/api/client";
import { useHousehold } from "@/shared/api/hooks";
import type { Problems } from "@/shared/fields";
import { digits, readAmount } from "@/shared/format";
import { Select } from "@/shared/kit/fields/Select";
import type { TypedName, VariantForm } from "./variants";

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

interface InputProps {
  label: string;
  placeholder: string;
  value: string;
  problem: string | undefined;
  onChange: (text: string) => void;
}

/** A field of one variant, and below it what is wrong with it. */
function VariantInput({ label, placeholder, value, problem, onChange }: InputProps) {
  const id = useId();
  return (
    <>
      <input
        aria-label={label}
        aria-invalid={Boolean(problem)}
        aria-describedby={problem ? id : undefined}
        inputMode="decimal"
        placeholder={placeholder}
        value={value}
        onChange={(event) => onChange(event.target.value)}
        className="field !min-h-9 text-right"
      />
      {problem && (
        <p id={id} className="mt-1 max-w-52 text-sm text-rust">
          {problem}
        </p>
      )}
    </>
  );
}

interface Props {
  forms: VariantForm[];
  /** By variant, what of its fields is wrong. */
  problems: Problems[];
  base: Outcome | undefined;
  extraMost: number;
  currency: string;
  /** Only tried: then another sum may be borrowed. */
  isTried: boolean;
  set: (place: number, part: Partial<VariantForm>) => void;
}

/** The fields of the variants; empty means as it is. */
export function VariantFields({ forms, problems, set, base, extraMost, currency, isTried }: Props) {
  const field = (name: Exclude<TypedName, "extra" | "lump">, label: string, shown = true) =>
    shown && (
      <VariantRow label={label} forms={forms} base={name === "payments" ? base?.payments : ""}>
        {(form, place) =>
          (name !== "fees" || form.refinance) && (
            <VariantInput
              label={`${label}, variant ${place + 1}`}
              placeholder="as it is"
              value={form[name]}
              problem={problems[place]?.[name]}
              onChange={(text) => set(place, { [name]: text })}
            />
          )
        }
      </VariantRow>
    );
  return (
    <>
      {field("principal", "Borrowed", isTried)}
      <ExtraRow {...{ forms, problems, set, currency }} most={extraMost} />
      <LumpRow {...{ forms, problems, set }} />
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
  problems: Problems[];
  set: (place: number, part: Partial<VariantForm>) => void;
  most: number;
  currency: string;
}

/** The extra with every payment, to be typed or dragged. */
function ExtraRow({ forms, problems, set, most, currency }: ExtraRowProps) {
  return (
    <VariantRow label="Extra with each" forms={forms}>
      {(form, place) => {
        const read = readAmount(form.extra || "0", currency);
        const amount = "amount" in read ? Math.max(0, read.amount) : 0;
        return (
          <>
            <VariantInput
              label={`Extra, variant ${place + 1}`}
              placeholder="none"
              value={form.extra}
              problem={problems[place]?.extra}
              onChange={(extra) => set(place, { extra })}
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
function LumpRow({ forms, problems, set }: Pick<Props, "forms" | "problems" | "set">) {
  const today = useHousehold().data?.today ?? "";
  return (
    <VariantRow label="Once, on a day" forms={forms}>
      {(form, place) => (
        <>
          <VariantInput
            label={`A sum once, variant ${place + 1}`}
            placeholder="none"
            value={form.lump}
            problem={problems[place]?.lump}
            onChange={(lump) => set(place, { lump, lump_on: form.lump_on || today })}
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
