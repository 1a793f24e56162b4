/** Variants of a loan as they are typed, kept in the address, and as the server is asked about them. */
import { useMemo } from "react";
import { useSearchParams } from "react-router";
import type { Schemas } from "@/shared/api/client";
import {
  aboveZero,
  amountOr,
  atLeastOnePayment,
  notBelowZero,
  type Problems,
  rateNotBelowZero,
  rateOr,
  readFields,
  wholeOr,
} from "@/shared/fields";
import { useAddressState } from "@/shared/hooks/useAddressState";
import { useView } from "@/shared/view";
import { z } from "@/shared/zod";

export interface VariantForm {
  principal: string;
  rate: string;
  payments: string;
  rhythm: string;
  payment: string;
  extra: string;
  lump: string;
  lump_on: string;
  balloon: string;
  refinance: boolean;
  fees: string;
  financed: boolean;
}

export const PLAIN: VariantForm = {
  principal: "",
  rate: "",
  payments: "",
  rhythm: "",
  payment: "",
  extra: "",
  lump: "",
  lump_on: "",
  balloon: "",
  refinance: false,
  fees: "",
  financed: false,
};

/** The variants that the address holds, of which each names what is other than as it is. */
export function useVariants(): [VariantForm[], (forms: VariantForm[]) => void] {
  const [search] = useSearchParams();
  const { set } = useView();
  const [text, setText] = useAddressState(search.get("variants") ?? "", (next) => set({ variants: next || null }));
  const forms = useMemo(() => storedVariants(text), [text]);
  return [forms, (next) => setText(writeVariants(next))];
}

function storedVariants(text: string): VariantForm[] {
  try {
    const stored: unknown = JSON.parse(text);
    if (Array.isArray(stored) && stored.length > 0) return stored.map(storedVariant);
  } catch {
    // The address was cut off or written by hand: what cannot be read is not there.
  }
  return [PLAIN];
}

function storedVariant(stored: unknown): VariantForm {
  const given = typeof stored === "object" && stored !== null ? stored : {};
  const same = Object.entries(given).filter(
    ([name, value]) => name in PLAIN && typeof value === typeof PLAIN[name as keyof VariantForm],
  );
  return { ...PLAIN, ...Object.fromEntries(same) };
}

function writeVariants(forms: VariantForm[]): string {
  const stored = forms.map((form) =>
    Object.fromEntries(Object.entries(form).filter(([name, value]) => value !== PLAIN[name as keyof VariantForm])),
  );
  return stored.length === 1 && Object.keys(stored[0] ?? {}).length === 0 ? "" : JSON.stringify(stored);
}

/** The place, from 1, of the last variant that differs; null where none does. */
export function lastChanged(forms: VariantForm[]): number | null {
  const text = JSON.stringify(PLAIN);
  for (let place = forms.length; place > 0; place -= 1) if (JSON.stringify(forms[place - 1]) !== text) return place;
  return null;
}

/** A variant as the server is asked about it, and what of it cannot be read: that is as if it were not there. */
export interface ReadVariant {
  wish: Schemas["WishModel"];
  problems: Problems;
}

const TYPED = ["principal", "rate", "payments", "payment", "extra", "lump", "balloon", "fees"] as const;
export type TypedName = (typeof TYPED)[number];

function schemaIn(currency: string) {
  const positive = amountOr(null, currency).check(aboveZero);
  const sum = amountOr(0, currency).check(notBelowZero);
  return z.object({
    principal: positive,
    rate: rateOr("").check(rateNotBelowZero),
    payments: wholeOr(null, 4).check(atLeastOnePayment),
    payment: positive,
    extra: sum,
    lump: sum,
    balloon: amountOr(null, currency).check(notBelowZero),
    fees: sum,
  });
}

export function readVariants(forms: VariantForm[], currency: string): ReadVariant[] {
  const schema = schemaIn(currency);
  return forms.map((form, place) => {
    const read = readFields(schema, form);
    if ("value" in read) return { wish: wishOf(form, read.value, place), problems: {} };
    const blanks = Object.fromEntries(Object.keys(read.problems).map((name) => [name, ""]));
    // What is blank can always be read.
    return { wish: wishOf(form, z.parse(schema, { ...form, ...blanks }), place), problems: read.problems };
  });
}

type Typed = z.output<ReturnType<typeof schemaIn>>;

function wishOf(form: VariantForm, typed: Typed, place: number): Schemas["WishModel"] {
  const { rate, lump, ...sums } = typed;
  return {
    name: `Variant ${place + 1}`,
    ...sums,
    annual_rate: rate || null,
    payments_per_year: (form.rhythm
      ? Number(form.rhythm.split("a")[0])
      : null) as Schemas["WishModel"]["payments_per_year"],
    accelerated: form.rhythm.endsWith("a"),
    lump: form.lump_on ? lump : 0,
    lump_on: form.lump_on || null,
    refinance: form.refinance,
    fees_financed: form.financed,
  };
}
