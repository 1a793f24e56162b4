import { useState } from "react";
import { useSave } from "@/shared/api/hooks";
import { Button } from "@/shared/kit/Button";
import { StarterSet } from "./StarterSet";

interface Props {
  kind: "income" | "expense";
  /** Whether the field to name it stands open at once. */
  isOpen: boolean;
  onMade: (id: string) => void;
  onClose?: () => void;
}

/** A category made where it is needed; nothing else that was typed is lost. */
export function NewCategory({ kind, isOpen, onMade, onClose }: Props) {
  const save = useSave();
  const [name, setName] = useState("");
  const make = () => {
    const id = crypto.randomUUID();
    if (!name.trim()) return;
    save.mutate([{ op: "add", kind: "category", id, value: { name: name.trim(), kind } }], {
      onSuccess: () => {
        onMade(id);
        setName("");
      },
    });
  };
  return (
    <div className="flex flex-wrap items-center gap-2">
      <StarterSet />
      <input
        // biome-ignore lint/a11y/noAutofocus: it was asked for just now
        autoFocus={isOpen}
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
