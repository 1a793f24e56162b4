import { X } from "lucide-react";
import { type FormEvent, type ReactNode, type RefObject, useEffect, useRef } from "react";
import { useIsPhone } from "@/shared/hooks/useIsPhone";
import { Button } from "@/shared/kit/Button";
import { useView } from "@/shared/view";
import { useDraft } from "./draft";
import { Effect } from "./Effect";
import { useWrongField } from "./useWrongField";

interface Props {
  title: string;
  saveName: string;
  isSaving: boolean;
  problem?: string | undefined;
  onSave: () => void;
  onDelete?: (() => void) | undefined;
  deleteName?: string;
  /** What may be done in place of what was refused. */
  instead?: { name: string; act: () => void } | undefined;
  /** What is new may be saved and followed by another. */
  isNew?: boolean;
  children: ReactNode;
}

/** A paper slip at the right of the page: a form, what it would do, and saving it. Esc closes, Ctrl+Enter saves, with Shift and another. */
export function Slip({
  title,
  saveName,
  isSaving,
  problem,
  onSave,
  onDelete,
  deleteName,
  instead,
  isNew = false,
  children,
}: Props) {
  const { closeSlip } = useView();
  const form = useRef<HTMLFormElement>(null);
  const isPhone = useIsPhone();
  const draft = useDraft();
  useSlipKeys(form, closeSlip);
  const Paper = isPhone ? "div" : "aside";
  const submit = (event: FormEvent) => {
    event.preventDefault();
    send(false);
  };
  const wrong = useWrongField(form);
  const send = (isAnotherWanted: boolean) => {
    draft.isAnotherWanted.current = isAnotherWanted;
    wrong.onTry();
    onSave();
  };
  const wording = wrong.named ?? problem;
  return (
    <Paper
      data-slip
      aria-label={title}
      {...(isPhone && { role: "dialog", "aria-modal": true })}
      className="slide-in fixed inset-0 z-30 flex flex-col border-rule-strong bg-sheet md:static md:w-[27rem] md:shrink-0 md:border-l md:shadow-[-8px_0_24px_-16px_#0005]"
    >
      <form ref={form} onSubmit={submit} onChange={wrong.onType} noValidate className="flex min-h-0 flex-1 flex-col">
        <div className="flex items-center justify-between gap-4 border-b border-rule py-2 pl-5 pr-2">
          <h2 className="line-clamp-2 text-lg" title={title}>
            {title}
          </h2>
          <button
            type="button"
            data-close
            aria-label="Close without saving"
            onClick={closeSlip}
            className="grid size-10 place-items-center rounded-sm hover:bg-hover"
          >
            <X size={20} aria-hidden />
          </button>
        </div>
        <div className="relative flex min-h-0 flex-1 flex-col gap-4 overflow-y-auto bg-sheet px-5 py-4">
          <DraftOffer />
          <Stale />
          {children}
        </div>
        <div className="border-t border-rule px-5 py-2.5">
          <Effect isUntouched={wrong.isUntouched && !isNew} />
          {wording && (
            <p role="alert" className="mb-2 text-rust">
              {wording}
              {instead && (
                <Button look="link" className="!min-h-9" onClick={instead.act}>
                  {instead.name}
                </Button>
              )}
            </p>
          )}
          <Foot {...{ saveName, isSaving, isNew, onDelete, deleteName }} onAnother={() => send(true)} />
        </div>
      </form>
    </Paper>
  );
}

/** Another window changed what this slip is about. */
function Stale() {
  const { isStale, again } = useDraft();
  if (!isStale) return null;
  return (
    <p role="status" className="flex flex-wrap items-center gap-x-3 border-l-2 border-rust pl-3">
      This was changed meanwhile.
      <button type="button" className="min-h-9 text-copper underline underline-offset-4" onClick={() => again()}>
        Show it as it is now
      </button>
    </p>
  );
}

/** What was typed here before and not saved, one press away. */
function DraftOffer() {
  const { offered, takeUp, throwAway } = useDraft();
  if (offered === null) return null;
  return (
    <p className="flex flex-wrap items-center gap-x-3 border-l-2 border-copper pl-3">
      You had begun here and not saved it.
      <button type="button" className="min-h-9 text-copper underline underline-offset-4" onClick={takeUp}>
        Take it up again
      </button>
      <button type="button" className="min-h-9 text-pencil underline underline-offset-4" onClick={throwAway}>
        Throw it away
      </button>
    </p>
  );
}

type FootProps = Pick<Props, "saveName" | "isSaving" | "isNew" | "onDelete" | "deleteName"> & { onAnother: () => void };

/** What can be done with a slip: save it, begin another, leave it, delete what it is about. */
function Foot({ saveName, isSaving, isNew, onDelete, deleteName, onAnother }: FootProps) {
  const { closeSlip } = useView();
  return (
    <div className="flex items-center gap-2">
      <Button look="main" type="submit" aria-busy={isSaving} aria-keyshortcuts="Control+Enter">
        {saveName}
      </Button>
      {isNew && (
        <Button data-another aria-busy={isSaving} aria-keyshortcuts="Control+Shift+Enter" onClick={onAnother}>
          And another
        </Button>
      )}
      <Button onClick={closeSlip}>Cancel</Button>
      {onDelete && (
        <Button look="danger" className="ml-auto" onClick={onDelete} disabled={isSaving}>
          {deleteName ?? "Delete"}
        </Button>
      )}
    </div>
  );
}

/** The first field has the focus, and it comes back when the slip closes; Escape closes it, Ctrl+Enter saves. */
function useSlipKeys(form: RefObject<HTMLFormElement | null>, closeSlip: () => void) {
  useEffect(() => {
    const opener = document.activeElement;
    form.current?.querySelector<HTMLElement>("input, [role=combobox]")?.focus();
    return () => {
      if (opener instanceof HTMLElement && opener.isConnected) opener.focus();
    };
  }, [form]);
  useEffect(() => {
    const close = (event: KeyboardEvent) => {
      if (event.key === "Escape" && !event.defaultPrevented) closeSlip();
    };
    // Before the control that has the focus sees it: Enter would open a list.
    const save = (event: KeyboardEvent) => {
      if (event.key !== "Enter" || !(event.ctrlKey || event.metaKey)) return;
      event.preventDefault();
      event.stopPropagation();
      const another = event.shiftKey && form.current?.querySelector<HTMLButtonElement>("[data-another]");
      if (another) another.click();
      else form.current?.requestSubmit();
    };
    window.addEventListener("keydown", close);
    window.addEventListener("keydown", save, true);
    return () => {
      window.removeEventListener("keydown", close);
      window.removeEventListener("keydown", save, true);
    };
  }, [form, closeSlip]);
}
