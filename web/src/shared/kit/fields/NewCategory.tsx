import { useState } from "react";
import { useSave } from "@/shared/api/hooks";
import { Button } from "@/shared/kit/Button";
import { StarterSet } from "./StarterSet";

interface Props {
  kind: "income" | "expense";
  /** Asked for just now; stands there because there is none to choose; or only offered. */
  begins: "asked" | "open" | "folded";
  onMade: (id: string) => void;
  onClose?: () => void;
}

/** A category made where it is needed; nothing else that was typed is lost. */
export function NewCategory({ kind, begins, onMade, onClose }: Props) {
  const save = useSave();
  const [name, setName] = useState("");
  const [isFolded, setFolded] = useState(begins === "folded");
  const make = () => {
    const id = crypto.randomUUID();
    if (!name.trim()) return;
    save.mutate([{ op: "add", kind: "category", id, value: { name: name.trim(), kind } }], {
      onSuccess: () => {
        onMade(id);
        setName("");
        setFolded(begins === "folded");
      },
    });
  };
  if (isFolded)
    return (
      <Button look="link" className="!min-h-9" onClick={() => setFolded(false)}>
        A new category
      </Button>
    );
  return (
    <div className="flex flex-wrap items-center gap-2">
      <StarterSet />
      <input
        // biome-ignore lint/a11y/noAutofocus: it was asked for just now
        autoFocus={begins !== "open"}
        aria-label="Name of the new category"
        placeholder="A new category"
        autoComplete="off"
        value={name}
        onChange={(event) => setName(event.target.value)}
        onKeyDown={(event) => {
          if (event.key === "Escape" && onClose) {
            event.stopPropagation();
            onClose();
          }
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
