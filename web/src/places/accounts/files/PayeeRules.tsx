import { ArrowUp, X } from "lucide-react";
import { useState } from "react";
import { api, type ChangeRequest, server } from "@/shared/api/client";
import { useAct, useEntryChoices } from "@/shared/api/hooks";
import { counted } from "@/shared/format";
import { Button } from "@/shared/kit/Button";
import { CategorySelect } from "@/shared/kit/fields/CategorySelect";
import { ChooseOne } from "@/shared/kit/fields/Choice";
import { Field, FieldGroup } from "@/shared/kit/fields/Field";

/** The household's rules for what is new: the first that fits says where it belongs. */
export function PayeeRules() {
  const { data } = server.useQuery("get", "/api/payee-rules");
  const choices = useEntryChoices().data;
  const kinds = new Map(choices?.categories.map(({ id, kind }) => [id, kind]));
  const change = useAct((changes: ChangeRequest[]) => api.post("/api/changes", { body: { changes } }));
  const order = useAct((ids: string[]) => api.post("/api/payee-rules/order", { body: { ids } }));
  if (!data || !choices) return null;
  const ids = data.map(({ rule }) => rule.id);
  const up = (place: number) => {
    const next = [...ids];
    next.splice(place - 1, 0, ...next.splice(place, 1));
    order.mutate(next);
  };
  return (
    <section aria-label="Where what is new belongs" className="mt-8">
      <h2 className="border-b border-rule-strong text-lg">Where what is new belongs</h2>
      {data.length === 0 && (
        <p className="py-2 text-pencil">
          No rules yet. Choose a category for a new line of a file and press “Always so”, or write one here.
        </p>
      )}
      <ol>
        {data.map(({ rule, fits }, place) => (
          <li key={rule.id} className="flex flex-wrap items-center gap-x-3 gap-y-1 border-b border-rule py-1.5">
            <span className="min-w-40 flex-1 break-words">
              contains “{rule.contains}”{rule.shown && `, recorded as ${rule.shown}`}
            </span>
            <span className="w-56">
              <CategorySelect
                kind={kinds.get(rule.category) ?? "expense"}
                label={`Category for ${rule.contains}`}
                value={rule.category}
                onChange={(category) =>
                  change.mutate([{ op: "update", kind: "payee_rule", id: rule.id, value: { category } }])
                }
              />
            </span>
            <span className="text-sm text-pencil">
              fits {fits === 1 ? "1 entry" : `${counted(fits)} entries`} of the last year
            </span>
            <span className="flex">
              {place > 0 && (
                <button
                  type="button"
                  aria-label={`Try ${rule.contains} earlier`}
                  className="grid size-9 place-items-center rounded-sm hover:bg-hover"
                  onClick={() => up(place)}
                >
                  <ArrowUp size={16} aria-hidden />
                </button>
              )}
              <button
                type="button"
                aria-label={`Delete the rule for ${rule.contains}`}
                className="grid size-9 place-items-center rounded-sm hover:bg-hover"
                onClick={() => change.mutate([{ op: "remove", kind: "payee_rule", id: rule.id, value: null }])}
              >
                <X size={16} aria-hidden />
              </button>
            </span>
          </li>
        ))}
      </ol>
      <NewRule onAdd={(value) => change.mutate([{ op: "add", kind: "payee_rule", id: crypto.randomUUID(), value }])} />
    </section>
  );
}

/** A rule written by hand. */
function NewRule({ onAdd }: { onAdd: (value: { contains: string; category: string; shown?: string }) => void }) {
  const [contains, setContains] = useState("");
  const [category, setCategory] = useState("");
  const [kind, setKind] = useState<"expense" | "income">("expense");
  const [shown, setShown] = useState("");
  const isReady = contains.trim() !== "" && category !== "";
  return (
    <form
      aria-label="A new rule"
      className="flex flex-wrap items-end gap-3 py-2"
      onSubmit={(event) => {
        event.preventDefault();
        if (!isReady) return;
        onAdd({ contains: contains.trim(), category, ...(shown.trim() && { shown: shown.trim() }) });
        setContains("");
        setShown("");
      }}
    >
      <Field label="Payee contains" className="w-56">
        {(ids) => (
          <input
            {...ids}
            value={contains}
            maxLength={200}
            autoComplete="off"
            className="field"
            onChange={(event) => setContains(event.target.value)}
          />
        )}
      </Field>
      <Field label="Recorded as" className="w-56">
        {(ids) => (
          <input
            {...ids}
            value={shown}
            maxLength={200}
            placeholder="as the bank writes it"
            autoComplete="off"
            className="field"
            onChange={(event) => setShown(event.target.value)}
          />
        )}
      </Field>
      <Field label="Its category" className="w-56">
        {(ids) => <CategorySelect {...ids} key={kind} kind={kind} value={category} onChange={setCategory} />}
      </Field>
      <FieldGroup label="Of money">
        <ChooseOne
          label="Of money"
          value={kind}
          options={[
            { value: "expense", label: "out" },
            { value: "income", label: "in" },
          ]}
          onChange={(next) => {
            setKind(next as "expense" | "income");
            setCategory("");
          }}
        />
      </FieldGroup>
      <Button type="submit" disabled={!isReady}>
        Keep the rule
      </Button>
    </form>
  );
}
