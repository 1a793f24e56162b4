import { type FormEvent, useState } from "react";
import { useNavigate } from "react-router";
import { type Account, api, refusalOf, type Schemas } from "@/shared/api/client";
import { useAct, useHousehold } from "@/shared/api/hooks";
import { amountIn, problemOf, readFields } from "@/shared/fields";
import { digits } from "@/shared/format";
import { Button } from "@/shared/kit/Button";
import { AmountField, DayField } from "@/shared/kit/fields/TypedFields";
import { keptSearch, useView } from "@/shared/view";
import { z } from "@/shared/zod";
import type { Asked } from "./useStatements";

interface Props {
  account: Account;
  isDebt: boolean;
  proposed: Schemas["ProposedStatement"];
}

/** What stands at the head of a statement: its days and its two balances. The first balance is proposed. */
export function BeginStatement({ account, isDebt, proposed }: Props) {
  const today = useHousehold().data?.today ?? "";
  const navigate = useNavigate();
  const { search } = useView();
  const { currency } = proposed;
  // What is owed is typed as one reads it, and is below zero in the books.
  const sign = isDebt ? -1 : 1;
  const [form, setForm] = useState({
    from: proposed.from,
    to: proposed.to,
    opening: digits(sign * proposed.opening, currency),
    closing: "",
  });
  const [wasTried, setTried] = useState(false);
  const set = (values: Partial<typeof form>) => setForm((before) => ({ ...before, ...values }));
  const begin = useAct((body: Asked) => api.post("/api/statements", { body }));
  const read = readFields(z.object({ opening: amountIn(currency), closing: amountIn(currency) }), form);
  const problem = (field: string) => (wasTried ? problemOf(read, field) : undefined) ?? refusalOf(begin.error, field);
  const onSubmit = (event: FormEvent) => {
    event.preventDefault();
    setTried(true);
    if ("problems" in read) return;
    const amounts = { opening: sign * read.value.opening, closing: sign * read.value.closing };
    begin.mutate(
      { account: account.id, from: form.from, to: form.to, entries: [], ...amounts },
      {
        onSuccess: ({ id }) =>
          navigate({
            pathname: `/accounts/${encodeURIComponent(account.id)}/statements/${encodeURIComponent(id)}`,
            search: keptSearch(search),
          }),
      },
    );
  };
  return (
    <form noValidate aria-label="The next statement" onSubmit={onSubmit} className="border-y border-rule py-3">
      <div className="flex flex-wrap items-start gap-x-4 gap-y-2">
        <DayField label="From" value={form.from} onChange={(from) => set({ from })} problem={problem("from")} />
        <DayField label="To" value={form.to} onChange={(to) => set({ to })} max={today} problem={problem("to")} />
        <AmountField
          label={`${isDebt ? "Owed" : "Balance"} before (${currency})`}
          value={form.opening}
          onChange={(value) => set({ opening: value })}
          problem={problem("opening")}
          className="w-44"
        />
        <AmountField
          label={`${isDebt ? "Owed" : "Balance"} at its end (${currency})`}
          value={form.closing}
          onChange={(value) => set({ closing: value })}
          problem={problem("closing")}
          className="w-44"
        />
        <Button type="submit" look="main" className="mt-6" disabled={begin.isPending}>
          Begin
        </Button>
      </div>
      {proposed.follows && <p className="mt-1 text-sm text-pencil">It follows the statement of {proposed.follows}.</p>}
    </form>
  );
}
