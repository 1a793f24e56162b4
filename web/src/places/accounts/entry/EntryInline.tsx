import { type FormEvent, useState } from "react";
import { server } from "@/shared/api/client";
import { useAccounts, useSave } from "@/shared/api/hooks";
import { firstProblem } from "@/shared/fields";
import { Button } from "@/shared/kit/Button";
import { CategorySelect } from "@/shared/kit/fields/CategorySelect";
import { useView } from "@/shared/view";
import { type EntryForm, entryChange, formOf, readForm } from "./entryForm";

/** Correct an entry in its place: day, payee, category and amount. What has several parts opens in the slip. */
export function EntryInline({ id, onClose }: { id: string; onClose: () => void }) {
  const { openSlip } = useView();
  const accounts = useAccounts().data?.accounts ?? [];
  const entry = server.useQuery("get", "/api/entries/{id}", { params: { path: { id } } }).data;
  if (!entry) return null;
  const currencyOf = (account: string) =>
    accounts.find((oneAccount) => oneAccount.account.id === account)?.account.currency ?? "USD";
  const initial = formOf(entry, currencyOf);
  if (!initial || initial.parts.length > 1)
    return (
      <p className="flex items-center gap-3 py-1">
        This entry has several parts.
        <Button className="!min-h-9" onClick={() => openSlip("entry", id)}>
          Open it
        </Button>
        <Button look="link" onClick={onClose}>
          Leave it
        </Button>
      </p>
    );
  return <Form id={id} initial={initial} currencyOf={currencyOf} onClose={onClose} />;
}

interface FormProps {
  id: string;
  initial: EntryForm;
  currencyOf: (account: string) => string;
  onClose: () => void;
}

function Form({ id, initial, currencyOf, onClose }: FormProps) {
  const save = useSave();
  const [form, setForm] = useState(initial);
  const [wasTried, setTried] = useState(false);
  const read = readForm(form, currencyOf);
  const set = (part: Partial<EntryForm>) => setForm({ ...form, ...part });
  const category = form.parts[0]?.category ?? "";
  const onSubmit = (event: FormEvent) => {
    event.preventDefault();
    setTried(true);
    if ("value" in read) save.mutate([entryChange(form, id, read.value)], { onSuccess: onClose });
  };
  const problem = save.error?.message ?? (wasTried ? firstProblem(read) : undefined);
  return (
    <form
      aria-label="Correct the entry"
      onSubmit={onSubmit}
      onKeyDown={(event) => event.key === "Escape" && onClose()}
      className="flex flex-wrap items-center gap-2 border-l-2 border-copper py-1 pl-2"
    >
      <input
        type="date"
        aria-label="Day"
        value={form.date}
        onChange={(event) => set({ date: event.target.value })}
        className="field !w-40"
      />
      <input
        // biome-ignore lint/a11y/noAutofocus: it was asked for just now, by key or button
        autoFocus
        aria-label="Payee"
        value={form.payee}
        onChange={(event) => set({ payee: event.target.value })}
        className="field min-w-32 flex-1"
      />
      {form.way !== "moved" && (
        <CategorySelect
          label="Category"
          kind={form.way === "received" ? "income" : "expense"}
          value={category}
          onChange={(next) => set({ parts: [{ category: next, amount: "" }] })}
          className="field !w-48"
        />
      )}
      <input
        aria-label="Amount"
        inputMode="decimal"
        value={form.amount}
        onChange={(event) => set({ amount: event.target.value })}
        className="field !w-28 text-right"
      />
      <Button look="main" type="submit" className="!min-h-9" disabled={save.isPending}>
        Save
      </Button>
      <Button className="!min-h-9" onClick={onClose}>
        Cancel
      </Button>
      {problem && (
        <p role="alert" className="w-full text-sm text-rust">
          {problem}
        </p>
      )}
    </form>
  );
}
