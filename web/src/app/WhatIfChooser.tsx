import { useEffect, useRef, useState } from "react";
import { api } from "@/shared/api/client";
import { useAct } from "@/shared/api/hooks";
import { Button } from "@/shared/kit/Button";
import { Select } from "@/shared/kit/fields/Select";
import { useWhatIf } from "@/shared/whatIf";

const PLAN = "";
const NEW = "+";

/** Which plan is looked at: the household's own, or a what-if, into which edits then go. */
export function WhatIfChooser() {
  const { shown, list, choose, begin } = useWhatIf();
  const [isNaming, setNaming] = useState(false);
  const [name, setName] = useState("");
  const onChoose = (next: string) => {
    if (next === NEW) setNaming(true);
    else choose(next === PLAN ? null : next);
  };
  // The list that asked for a name goes meanwhile: whoever is done with the name is back on it.
  const wasNaming = useRef(false);
  const chooser = useRef<HTMLSpanElement>(null);
  useEffect(() => {
    if (wasNaming.current && !isNaming) chooser.current?.querySelector<HTMLElement>("[role=combobox]")?.focus();
    wasNaming.current = isNaming;
  }, [isNaming]);
  if (isNaming)
    return (
      <form
        aria-label="A new what-if"
        className="flex items-center gap-2"
        onSubmit={(event) => {
          event.preventDefault();
          if (!name.trim()) return;
          void begin(name.trim(), []);
          setNaming(false);
          setName("");
        }}
        onKeyDown={(event) => event.key === "Escape" && setNaming(false)}
      >
        <input
          // biome-ignore lint/a11y/noAutofocus: it was asked for just now
          autoFocus
          aria-label="Name of the what-if"
          placeholder="What if…"
          value={name}
          onChange={(event) => setName(event.target.value)}
          className="field !min-h-9 !w-44"
        />
        <Button type="submit" className="!min-h-9">
          Begin
        </Button>
      </form>
    );
  return (
    <span ref={chooser} className="hidden md:block">
      <Select
        label="What is looked at"
        value={shown?.id ?? PLAN}
        onChange={onChoose}
        options={[
          { value: PLAN, label: "The plan" },
          ...list.map((whatIf) => ({ value: whatIf.id, label: `What if: ${whatIf.name}` })),
          { value: NEW, label: "A new what-if…" },
        ]}
        className={`field !min-h-9 !w-44 ${shown ? "!border-copper text-copper" : ""}`}
      />
    </span>
  );
}

/** A what-if is looked at: what becomes of it. */
export function WhatIfBar() {
  const { shown, choose } = useWhatIf();
  const path = { id: shown?.id ?? "" };
  const adopt = useAct(() => api.post("/api/what-ifs/{id}/adopt", { params: { path } }));
  const drop = useAct(() => api.delete("/api/what-ifs/{id}", { params: { path } }));
  if (!shown) return null;
  const count = shown.changes?.length ?? 0;
  const leave = { onSuccess: () => choose(null) };
  return (
    <section
      aria-label="What-if"
      className="flex flex-wrap items-center gap-x-4 gap-y-1 border-b-2 border-copper px-4 py-1 md:px-6"
    >
      <p className="min-w-0 flex-1 text-copper">
        <strong>What if: {shown.name}.</strong> {count === 1 ? "One change" : `${count} changes`}; edits go into it, the
        plan stays as it is.
        {shown.problem && <span className="block text-rust">It no longer applies: {shown.problem}</span>}
      </p>
      <Button className="!min-h-9" disabled={adopt.isPending} onClick={() => adopt.mutate(undefined, leave)}>
        Adopt it
      </Button>
      <Button className="!min-h-9" onClick={() => choose(null)}>
        Leave it
      </Button>
      <Button look="danger" className="!min-h-9" onClick={() => drop.mutate(undefined, leave)}>
        Throw away
      </Button>
    </section>
  );
}
