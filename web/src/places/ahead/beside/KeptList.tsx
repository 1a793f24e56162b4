import { type FormEvent, useState } from "react";
import { api, type Schemas } from "@/shared/api/client";
import { useAct } from "@/shared/api/hooks";
import { Button } from "@/shared/kit/Button";
import { useWhatIf } from "@/shared/whatIf";

type WhatIf = Schemas["WhatIfModel"];

interface Props {
  whatIfs: WhatIf[];
  shown: string[];
  most: number;
  onShow: (ids: string[]) => void;
}

/** Every what-if that is kept: shown above or not, looked at, given another name, thrown away. */
export function KeptList({ whatIfs, shown, most, onShow }: Props) {
  return (
    <section aria-label="What-ifs that are kept" className="mt-5">
      <h2 className="mb-1 text-lg">Kept</h2>
      <ul>
        {whatIfs.map((whatIf) => (
          <li key={whatIf.id} className="flex flex-wrap items-center gap-x-3 border-t border-rule py-1">
            <label className="flex min-h-10 min-w-0 flex-1 items-center gap-2.5">
              <input
                type="checkbox"
                checked={shown.includes(whatIf.id)}
                disabled={!shown.includes(whatIf.id) && shown.length >= most}
                onChange={(event) =>
                  onShow(event.target.checked ? [...shown, whatIf.id] : shown.filter((id) => id !== whatIf.id))
                }
                className="size-4.5 shrink-0 accent-(--copper)"
              />
              <span className="min-w-0 break-words">
                {whatIf.name}
                <span className="ml-2 text-sm text-pencil">
                  {whatIf.changes?.length === 1 ? "one change" : `${whatIf.changes?.length ?? 0} changes`}
                </span>
              </span>
            </label>
            <Actions each={whatIf} />
          </li>
        ))}
      </ul>
    </section>
  );
}

function Actions({ each: whatIf }: { each: WhatIf }) {
  const { choose } = useWhatIf();
  const [isNaming, setNaming] = useState(false);
  const path = { id: whatIf.id };
  const drop = useAct(() => api.delete("/api/what-ifs/{id}", { params: { path } }));
  if (isNaming) return <Rename each={whatIf} onDone={() => setNaming(false)} />;
  return (
    <span className="flex flex-wrap">
      <Button look="link" onClick={() => choose(whatIf.id)}>
        Look at it
      </Button>
      <Button look="link" onClick={() => setNaming(true)}>
        Another name
      </Button>
      <Button look="danger" disabled={drop.isPending} onClick={() => drop.mutate(undefined)}>
        Throw away
      </Button>
    </span>
  );
}

function Rename({ each: whatIf, onDone }: { each: WhatIf; onDone: () => void }) {
  const [name, setName] = useState(whatIf.name);
  const keep = useAct((given: string) =>
    api.put("/api/what-ifs/{id}", {
      params: { path: { id: whatIf.id } },
      body: { name: given, changes: whatIf.changes ?? [] },
    }),
  );
  const onSubmit = (event: FormEvent) => {
    event.preventDefault();
    if (name.trim()) keep.mutate(name.trim(), { onSuccess: onDone });
  };
  return (
    <form onSubmit={onSubmit} onKeyDown={(event) => event.key === "Escape" && onDone()} className="flex gap-2">
      <input
        // biome-ignore lint/a11y/noAutofocus: it was asked for just now
        autoFocus
        aria-label="Another name"
        maxLength={200}
        value={name}
        onChange={(event) => setName(event.target.value)}
        className="field !w-64"
      />
      <Button type="submit">Keep</Button>
    </form>
  );
}
