import { useMutation } from "@tanstack/react-query";
import { Paperclip } from "lucide-react";
import { useRef } from "react";
import { type Refusal, Refused, type Schemas } from "@/shared/api/client";
import { Button } from "@/shared/kit/Button";
import { FieldGroup } from "@/shared/kit/fields/Field";
import { FileInput } from "@/shared/kit/fields/FileInput";
import { RemoveRow } from "@/shared/kit/RowButtons";

export type Receipt = NonNullable<Schemas["Entry"]["receipt"]>;

interface Props {
  receipt: Receipt | null;
  problem: string | undefined;
  onChange: (receipt: Receipt | null) => void;
}

/** The receipt of an entry: attach a file, see it, take it off. */
export function ReceiptField({ receipt, problem, onChange }: Props) {
  const input = useRef<HTMLInputElement>(null);
  const keep = useMutation({ mutationFn: keepFile, onSuccess: onChange });
  return (
    <FieldGroup label="Receipt" problem={keep.error?.message ?? problem}>
      <FileInput
        label="Receipt file"
        ref={input}
        accept="application/pdf,image/png,image/jpeg"
        onFile={(chosen) => keep.mutate(chosen)}
      />
      {receipt ? (
        <Shown receipt={receipt} onRemove={() => onChange(null)} />
      ) : (
        <Button onClick={() => input.current?.click()} disabled={keep.isPending}>
          <Paperclip size={17} aria-hidden /> {keep.isPending ? "Reading…" : "Attach a PDF or picture"}
        </Button>
      )}
    </FieldGroup>
  );
}

function Shown({ receipt, onRemove }: { receipt: Receipt; onRemove: () => void }) {
  const address = `/api/receipts/${receipt.file}`;
  return (
    <>
      <div className="flex items-center gap-1">
        <a href={address} target="_blank" rel="noreferrer" className="min-w-0 flex-1 truncate text-copper underline">
          {receipt.name}
        </a>
        <RemoveRow name="Take the receipt off" onClick={onRemove} />
      </div>
      {receipt.name.toLowerCase().endsWith(".pdf") ? (
        <iframe title={`Receipt ${receipt.name}`} src={address} className="h-80 w-full border border-rule" />
      ) : (
        <img src={address} alt={`Receipt ${receipt.name}`} className="max-h-80 max-w-full border border-rule" />
      )}
    </>
  );
}

async function keepFile(file: File): Promise<Receipt> {
  const response = await fetch("/api/receipts", {
    method: "POST",
    headers: { "content-type": "application/octet-stream" },
    body: file,
  });
  const said = (await response.json()) as { file: string; media_type: string } | { detail: Refusal[] };
  if ("detail" in said) throw new Refused(said.detail);
  // The ending says how to show it; what the file is was told by its content.
  const ending = { "application/pdf": ".pdf", "image/png": ".png", "image/jpeg": ".jpg" }[said.media_type] ?? "";
  const name = file.name.replace(/\.(pdf|png|jpe?g)$/i, "").slice(0, 190) || "receipt";
  return { file: said.file, name: name + ending };
}
