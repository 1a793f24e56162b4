import { Plus, X } from "lucide-react";

interface Props {
  name: string;
  onClick: () => void;
}

/** Take a row out of a short list; `name` says which, for those who hear it. */
export function RemoveRow({ name, onClick }: Props) {
  return (
    <button
      type="button"
      aria-label={name}
      title={name}
      onClick={onClick}
      className="grid size-10 shrink-0 place-items-center rounded-sm hover:bg-hover"
    >
      <X size={17} aria-hidden />
    </button>
  );
}

/** Add a row to a short list. */
export function AddRow({ name, onClick }: Props) {
  return (
    <button
      type="button"
      onClick={onClick}
      className="mt-1 flex min-h-9 items-center gap-1 rounded-sm px-1 text-copper hover:bg-hover"
    >
      <Plus size={16} aria-hidden /> {name}
    </button>
  );
}
