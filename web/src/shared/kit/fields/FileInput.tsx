import type { RefObject } from "react";

interface Props {
  label: string;
  ref: RefObject<HTMLInputElement | null>;
  accept?: string;
  onFile: (file: File) => void;
}

/** The browser's own way to choose a file, out of sight: a button beside it opens it. */
export function FileInput({ label, ref, accept, onFile }: Props) {
  return (
    <input
      ref={ref}
      type="file"
      accept={accept}
      aria-label={label}
      className="sr-only"
      tabIndex={-1}
      onChange={(event) => {
        const file = event.target.files?.[0];
        if (file) onFile(file);
        event.target.value = "";
      }}
    />
  );
}
