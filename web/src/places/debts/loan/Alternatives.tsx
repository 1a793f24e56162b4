import { keepPreviousData } from "@tanstack/react-query";
import { type ReactNode, useEffect, useRef } from "react";
import { type ChangeRequest, Refused, type Schemas, server } from "@/shared/api/client";
import { useSave } from "@/shared/api/hooks";
import type { Problems } from "@/shared/fields";
import { money, monthOf, rateText } from "@/shared/format";
import { Button } from "@/shared/kit/Button";
import { Select } from "@/shared/kit/fields/Select";
import { RemoveRow } from "@/shared/kit/RowButtons";
import { useToast } from "@/shared/kit/Toast";
import { Wide } from "@/shared/kit/Wide";
import { useWaters } from "@/shared/look/waters";
import { VariantFields } from "./VariantFields";
import { PLAIN, readVariants, type VariantForm } from "./variants";
import type { Source } from "./Why";

type Outcome = Schemas["OutcomeModel"];

const HORIZONS = [12, 36, 60, 84, 120, 180, 240, 360].map((months) => ({
  value: String(months),
  label: months === 12 ? "1 year" : `${months / 12} years`,
}));

/** What the variants come to, and by variant what of its fields is wrong; the last answer stays while one is. */
export function useAlternatives(source: Source, forms: VariantForm[], horizon: string, currency: string) {
  const variants = readVariants(forms, currency);
  const asked = {
    ...("account" in source ? source : { loan: source.loan }),
    variants: variants.map(({ wish }) => wish),
  };
  const { data, error, isLoading } = server.useQuery(
    "post",
    "/api/debts/alternatives",
    { body: { ...asked, horizon_months: Number(horizon) } },
    { placeholderData: keepPreviousData, retry: false },
  );
  const last = useRef(data);
  if (data) last.current = data;
  const refused = error instanceof Refused ? error.details : [];
  const problems = variants.map((variant, place) => ({ ...refusedOf(refused, place), ...variant.problems }));
  return { data: data ?? last.current, problems, isLoading };
}

/** Whether a field of a variant (by its place, from 1) is wrong: then what is worked out without it is not shown. */
export const hasProblem = (problems: Problems[], place: number) => Object.keys(problems[place - 1] ?? {}).length > 0;

/** What the app refuses of a variant, by field. */
function refusedOf(refused: Refused["details"], place: number): Problems {
  const own = refused.filter(({ loc }) => loc[1] === "variants" && loc[2] === place);
  return Object.fromEntries(own.map(({ loc, msg }) => [loc[3] === "annual_rate" ? "rate" : String(loc[3]), msg]));
}

interface Props {
  forms: VariantForm[];
  outcomes: Outcome[];
  /** By variant, what of its fields is wrong. */
  problems: Problems[];
  currency: string;
  horizon: string;
  isTried: boolean;
  laid: number | null;
  onForms: (forms: VariantForm[]) => void;
  onHorizon: (horizon: string) => void;
  onLay: (place: number | null) => void;
  extraMost: number;
  /** So many variants can be held against the loan. */
  most: number;
}

/** Variants beside the loan as it is: every field is live, every figure held against the first column. */
export function Alternatives(props: Props) {
  const { forms, outcomes, problems, currency, horizon, isTried, laid, onForms, onHorizon, onLay } = props;
  const set = (place: number, part: Partial<VariantForm>) =>
    onForms(forms.map((form, at) => (at === place ? { ...form, ...part } : form)));
  const base = outcomes[0];
  const row = (label: string, tell: (outcome: Outcome, place: number) => ReactNode) => (
    <tr className="border-t border-rule">
      <th scope="row" className="py-1.5 pr-3 text-left font-normal text-pencil">
        {label}
      </th>
      {outcomes.slice(0, forms.length + 1).map((outcome, place) => (
        <td key={outcome.name} className="py-1.5 pl-3 text-right">
          {place > 0 && hasProblem(problems, place) ? "–" : tell(outcome, place)}
        </td>
      ))}
    </tr>
  );
  return (
    <section aria-label="Alternatives side by side" className="mt-8">
      <div className="flex flex-wrap items-baseline gap-x-4">
        <h2 className="text-lg">Alternatives side by side</h2>
        {forms.length < props.most && (
          <Button look="link" className="!min-h-8" onClick={() => onForms([...forms, PLAIN])}>
            Add a variant
          </Button>
        )}
        <span className="ml-auto flex items-center gap-2 text-sm text-pencil">
          Cost over
          <Select label="Cost over" value={horizon} options={HORIZONS} onChange={onHorizon} className="field !w-32" />
        </span>
      </div>
      <Wide label="The alternatives, scrolled sideways">
        <table className="border-collapse">
          <thead>
            <Heads forms={forms} onForms={onForms} onLay={onLay} />
          </thead>
          <tbody>
            <VariantFields
              forms={forms}
              set={set}
              problems={problems}
              base={base}
              extraMost={props.extraMost}
              currency={currency}
              isTried={isTried}
            />
            {row("Principal and interest", (outcome) => money(outcome.payment, currency))}
            {row("Paid off", (outcome, place) => (
              <span className={place && outcome.paid_off < (base?.paid_off ?? "") ? "font-semibold" : ""}>
                {outcome.never_ends ? "never" : monthOf(outcome.paid_off)}
              </span>
            ))}
            {row("Payments left", (outcome) => outcome.payments)}
            {row("Interest in all", (outcome) => money(outcome.total_interest, currency))}
            {row("Annual percentage rate", (outcome) => (outcome.apr ? `${rateText(outcome.apr)}%` : "–"))}
            {row(`Cost over ${HORIZONS.find((option) => option.value === horizon)?.label}`, (outcome) =>
              money(outcome.cost, currency),
            )}
            {row("Saves in that time", (outcome, place) =>
              place ? <Saved amount={outcome.saves} currency={currency} /> : "",
            )}
            {row("Paid to the end", (outcome) => money(outcome.total, currency))}
            {row("Saves to the end", (outcome, place) =>
              place ? <Saved amount={outcome.saves_in_all} currency={currency} /> : "",
            )}
            {forms.some((form) => form.refinance) &&
              row("Breaks even", (outcome, place) =>
                place && forms[place - 1]?.refinance
                  ? outcome.breaks_even
                    ? monthOf(outcome.breaks_even)
                    : "never"
                  : "",
              )}
            <Deeds {...{ outcomes, forms, problems, isTried, laid, onLay }} />
          </tbody>
        </table>
      </Wide>
    </section>
  );
}

function Saved({ amount, currency }: { amount: number; currency: string }) {
  if (amount === 0) return <>–</>;
  return amount > 0 ? (
    <span className="text-teal">{money(amount, currency)}</span>
  ) : (
    <span className="text-rust">costs {money(-amount, currency)} more</span>
  );
}

interface DeedsProps {
  outcomes: Outcome[];
  forms: VariantForm[];
  problems: Problems[];
  isTried: boolean;
  laid: number | null;
  onLay: (place: number | null) => void;
}

/** What can be done with a variant: lay it over the plan in copper, or adopt it. */
function Deeds({ outcomes, forms, problems, isTried, laid, onLay }: DeedsProps) {
  const save = useSave();
  const toast = useToast();
  const { setDraft } = useWaters();
  const laidChanges = laid === null || hasProblem(problems, laid) ? undefined : outcomes[laid]?.changes;
  const text = JSON.stringify(laidChanges ?? []);
  useEffect(() => {
    const changes = JSON.parse(text) as ChangeRequest[];
    if (changes.length === 0) return;
    setDraft(changes);
    return () => setDraft([]);
  }, [text, setDraft]);
  const adopt = (outcome: Outcome) =>
    save.mutate(outcome.changes, {
      onSuccess: () => {
        onLay(null);
        toast("Adopted. Undo takes it back.");
      },
      onError: (error) => toast(error.message),
    });
  return (
    <tr className="border-t border-rule align-top">
      <td />
      <td />
      {forms.map((_, place) => {
        // What cannot be taken as it is typed is not adopted without it.
        const outcome = hasProblem(problems, place + 1) ? undefined : outcomes[place + 1];
        return (
          // biome-ignore lint/suspicious/noArrayIndexKey: variants have no identity but their place
          <td key={place} className="py-2 pl-3 text-right">
            {outcome?.problem && <p className="text-sm text-rust">{outcome.problem}</p>}
            {!isTried && outcome && !outcome.problem && outcome.changes.length > 0 && (
              <span className="flex flex-wrap justify-end gap-1">
                <Button
                  className="!min-h-9 !px-3"
                  aria-pressed={laid === place + 1}
                  onClick={() => onLay(laid === place + 1 ? null : place + 1)}
                >
                  {laid === place + 1 ? "Take it off" : "Show it over the plan"}
                </Button>
                <Button look="main" className="!min-h-9 !px-3" disabled={save.isPending} onClick={() => adopt(outcome)}>
                  Adopt
                </Button>
              </span>
            )}
          </td>
        );
      })}
    </tr>
  );
}

/** The names of the alternatives, each with a way to take it out. */
function Heads({ forms, onForms, onLay }: Pick<Props, "forms" | "onForms" | "onLay">) {
  return (
    <tr className="align-bottom">
      <td className="w-40" />
      <th scope="col" className="min-w-32 pl-3 text-right font-semibold">
        As it is
      </th>
      {forms.map((form, place) => (
        <th
          // biome-ignore lint/suspicious/noArrayIndexKey: variants have no identity but their place
          key={place}
          scope="col"
          className="w-52 min-w-44 pl-3 text-right font-semibold text-copper"
        >
          <span className="inline-flex items-center">
            Variant {place + 1}
            <RemoveRow
              name={`Remove variant ${place + 1}`}
              onClick={() => {
                onLay(null);
                onForms(forms.filter((variantForm) => variantForm !== form));
              }}
            />
          </span>
        </th>
      ))}
    </tr>
  );
}
