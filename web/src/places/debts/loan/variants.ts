/** Variants of a loan as they are typed, kept in the address, and as the server is asked about them. */
import { useMemo } from "react";
import { useSearchParams } from "react-router";
import type { Schemas } from "@/shared/api/client";
import { readAmount } from "@/shared/format";
import { useAddressState } from "@/shared/hooks/useAddressState";
import { useView } from "@/shared/view";

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
  const forms = useMemo(() => readVariants(text), [text]);
  return [forms, (next) => setText(writeVariants(next))];
}

function readVariants(text: string): VariantForm[] {
  try {
    const stored: unknown = JSON.parse(text);
    if (Array.isArray(stored) && stored.length > 0) return stored.map(readVariant);
  } catch {
    // The address was cut off or written by hand: what cannot be read is not there.
  }
  return [PLAIN];
}

function readVariant(stored: unknown): VariantForm {
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

/** The variants as the server is asked about them; what cannot be read is as if it were not there. */
export function wishes(forms: VariantForm[], currency: string): Schemas["WishModel"][] {
  const amount = (text: string) => {
    const read = readAmount(text, currency);
    return text.trim() && "amount" in read && read.amount >= 0 ? read.amount : null;
  };
  return forms.map((form, place) => ({
    name: `Variant ${place + 1}`,
    annual_rate: /^\d+([.,]\d+)?$/.test(form.rate.trim()) ? form.rate.trim().replace(",", ".") : null,
    payments: /^[1-9]\d{0,3}$/.test(form.payments.trim()) ? Number(form.payments) : null,
    payments_per_year: (form.rhythm
      ? Number(form.rhythm.split("a")[0])
      : null) as Schemas["WishModel"]["payments_per_year"],
    accelerated: form.rhythm.endsWith("a"),
    payment: amount(form.payment) || null,
    principal: amount(form.principal) || null,
    extra: amount(form.extra) ?? 0,
    lump: (form.lump_on && amount(form.lump)) || 0,
    lump_on: form.lump_on || null,
    balloon: amount(form.balloon),
    refinance: form.refinance,
    fees: amount(form.fees) ?? 0,
    fees_financed: form.financed,
  }));
}
