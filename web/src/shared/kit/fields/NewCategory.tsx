import { useState } from "react";
import { answer, api, type Schemas } from "@/shared/api/client";
import { useAct, useSave } from "@/shared/api/hooks";
import { Button } from "@/shared/kit/Button";

interface Props {
  kind: "income" | "expense";
  /** Whether there is none of its kind yet. */
  isFirst: boolean;
  onMade: (id: string) => void;
}

/** A category made where it is needed; nothing else that was typed is lost. */
export function NewCategory({ kind, isFirst, onMade }: Props) {
  const save = useSave();
  const [isOpen, setOpen] = useState(isFirst);
  const [name, setName] = useState("");
  const starter = useAct(() => answer<Schemas["HistoryAnswer"]>(api.POST("/api/categories/starter")));
  const make = () => {
    const id = crypto.randomUUID();
    if (!name.trim()) return;
    save.mutate([{ op: "add", kind: "category", id, value: { name: name.trim(), kind } }], {
      onSuccess: () => {
        onMade(id);
        setName("");
        setOpen(false);
      },
    });
  };
  if (!isOpen)
    return (
      <button
        type="button"
        className="min-h-9 text-left text-copper underline underline-offset-4"
        onClick={() => setOpen(true)}
      >
        A new category
      </button>
    );
  return (
    <div className="flex flex-wrap items-center gap-2">
      {isFirst && (
        <Button disabled={starter.isPending} onClick={() => starter.mutate(undefined)}>
          Begin with the usual ones
        </Button>
      )}
      <input
        aria-label="Name of the new category"
        placeholder="A new category"
        autoComplete="off"
        value={name}
        onChange={(event) => setName(event.target.value)}
        onKeyDown={(event) => {
          if (event.key !== "Enter" || event.ctrlKey) return;
          event.preventDefault();
          make();
        }}
        className="field !w-44"
      />
      <Button disabled={save.isPending} onClick={make}>
        Add it
      </Button>
      {save.error && (
        <p role="alert" className="w-full text-rust">
          {save.error.message}
        </p>
      )}
    </div>
  );
}
