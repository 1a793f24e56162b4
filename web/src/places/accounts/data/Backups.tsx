import { useMutation, useQueryClient } from "@tanstack/react-query";
import { Download } from "lucide-react";
import { Fragment, useRef, useState } from "react";
import { api, type Refusal, Refused, type Schemas, server } from "@/shared/api/client";
import { useHousehold } from "@/shared/api/hooks";
import { Button } from "@/shared/kit/Button";
import { FileInput } from "@/shared/kit/fields/FileInput";
import { useToast } from "@/shared/kit/Toast";
import { BackupLook } from "./BackupLook";
import { KINDS, madeText, sizeText } from "./told";

type Backup = Schemas["BackupModel"];

export const BACKUPS = server.queryOptions("get", "/api/backups");

/** Backups: made, listed, looked at, brought from elsewhere. */
export function Backups({ data }: { data: Schemas["BackupsAnswer"] }) {
  const [open, setOpen] = useState<string | null>(null);
  const client = useQueryClient();
  const toast = useToast();
  const file = useRef<HTMLInputElement>(null);
  const onDone = (backup: Backup, word: string) => {
    toast(word);
    void client.invalidateQueries({ queryKey: BACKUPS.queryKey });
    return backup;
  };
  const make = useMutation({
    mutationFn: () => api.post("/api/backups"),
    onSuccess: (backup) => onDone(backup, `Backed up, and checked: ${sizeText(backup.size)}.`),
  });
  const bring = useMutation({
    mutationFn: bringFile,
    onSuccess: (backup) => setOpen(onDone(backup, "It is beside the others now. Nothing was restored yet.").name),
  });
  const problem = make.error ?? bring.error;
  return (
    <section aria-label="Backups" className="mt-6">
      <h2 className="border-b border-rule-strong text-lg">Backups</h2>
      <p className="py-1 text-pencil">
        One is made each day by itself, in <code className="break-all text-ink">{data.folder}</code>; the newest of 7
        days, 5 weeks and 12 months are kept. The newest state is kept there too, a few seconds after each change.
      </p>
      {data.passed_over.length > 0 && (
        <p className="py-1 text-pencil">
          Passed over in that folder, since no backup is called so: {data.passed_over.join(", ")}.
        </p>
      )}
      <div className="flex flex-wrap items-center gap-2 py-1">
        <Button look={data.file.is_lost ? "plain" : "main"} disabled={make.isPending} onClick={() => make.mutate()}>
          {make.isPending ? "Backing up…" : "Back up now"}
        </Button>
        <a
          href="/api/backups/download"
          download
          className="inline-flex min-h-10 items-center gap-2 rounded-sm border border-rule-strong px-4 hover:bg-hover"
        >
          <Download size={16} aria-hidden /> Download a copy
        </a>
        <FileInput label="A backup from elsewhere" ref={file} onFile={(chosen) => bring.mutate(chosen)} />
        <Button disabled={bring.isPending} onClick={() => file.current?.click()}>
          {bring.isPending ? "Reading…" : "Bring one from elsewhere…"}
        </Button>
      </div>
      {problem && (
        <p role="alert" className="text-rust">
          {problem.message}
        </p>
      )}
      <List backups={data.backups} open={open} onOpen={setOpen} />
    </section>
  );
}

interface ListProps {
  backups: Backup[];
  open: string | null;
  onOpen: (name: string | null) => void;
}

function List({ backups, open, onOpen }: ListProps) {
  const today = useHousehold().data?.today ?? "";
  if (backups.length === 0)
    return <p className="py-2">There is none yet. The first comes by itself shortly after the first change.</p>;
  return (
    <table aria-label="Backups" className="w-full border-collapse text-left">
      <thead>
        <tr className="border-b border-rule-strong text-sm text-pencil [&>th]:py-1 [&>th]:font-normal">
          <th>Made</th>
          <th className="hidden @2xl:table-cell">Why</th>
          <th className="text-right">Size</th>
          <th>
            <span className="sr-only">What can be done</span>
          </th>
        </tr>
      </thead>
      <tbody>
        {backups.map((backup) => {
          const made = madeText(backup.made, today);
          const isOpen = open === backup.name;
          return (
            <Fragment key={backup.name}>
              <tr className="border-b border-rule align-middle">
                <td className="py-1">
                  {made}
                  <span className="block text-sm text-pencil @2xl:hidden">{KINDS[backup.kind]}</span>
                </td>
                <td className="hidden text-pencil @2xl:table-cell">{KINDS[backup.kind]}</td>
                <td className="text-right whitespace-nowrap">{sizeText(backup.size)}</td>
                <td className="text-right whitespace-nowrap">
                  <Button
                    look="link"
                    aria-expanded={isOpen}
                    aria-label={`Look at the backup of ${made}`}
                    onClick={() => onOpen(isOpen ? null : backup.name)}
                  >
                    Look at
                  </Button>
                  <a
                    href={`/api/backups/${backup.name}/file`}
                    download
                    aria-label={`Download the backup of ${made}`}
                    className="inline-grid size-10 place-items-center align-middle rounded-sm text-copper hover:bg-hover"
                  >
                    <Download size={17} aria-hidden />
                  </a>
                </td>
              </tr>
              {isOpen && (
                <tr>
                  <td colSpan={4} className="pb-3">
                    <BackupLook name={backup.name} today={today} />
                  </td>
                </tr>
              )}
            </Fragment>
          );
        })}
      </tbody>
    </table>
  );
}

/** The file as it is: no form, no encoding. */
async function bringFile(file: File): Promise<Backup> {
  const response = await fetch("/api/backups/bring", {
    method: "POST",
    body: file,
    headers: { "Content-Type": "application/octet-stream" },
  });
  const answered = await response.json();
  if (!response.ok) throw new Refused(answered.detail as Refusal[]);
  return answered as Backup;
}
