import { useEffect, useRef, useState } from "react";
import { useLocation, useNavigate } from "react-router";
import { Alert } from "@/shared/kit/Alert";
import { BackLink } from "@/shared/kit/BackLink";
import { Button } from "@/shared/kit/Button";
import { FileInput } from "@/shared/kit/fields/FileInput";
import { LookView } from "./LookView";
import { PayeeRules } from "./PayeeRules";
import { type Asked, type Look, useLook, useOwners } from "./useBankFile";

/** Files from a bank: chosen or dropped, looked at, taken in. */
export function BankFiles() {
  const file = useRef<HTMLInputElement>(null);
  const [asked, setAsked] = useState<Asked | null>(null);
  const [look, setLook] = useState<Look | null>(null);
  const looking = useLook();
  const owners = useOwners(setLook);
  const ask = (next: Asked) => {
    setAsked(next);
    looking.mutate(next, { onSuccess: setLook });
  };
  const begin = (chosen: File) => {
    setLook(null);
    ask({ file: chosen, account: null, accounts: {}, columns: null });
  };
  useHandedOver(begin, (fetched) => {
    leave();
    setLook(fetched);
  });
  const leave = () => {
    setLook(null);
    setAsked(null);
    looking.reset();
    owners.reset();
  };
  return (
    <div className="mx-auto max-w-6xl px-4 py-4 md:px-6">
      <BackLink to="/accounts" name="Accounts" />
      <h1 className="text-xl">Files from a bank</h1>
      <p className="text-pencil">
        A statement as OFX, camt.053 or a table (CSV). Nothing is taken in before you have looked at it, and undo takes
        it back.
      </p>
      <FileInput label="A file from a bank" ref={file} accept=".ofx,.qfx,.xml,.csv,.txt,.tsv" onFile={begin} />
      <p className="flex flex-wrap items-center gap-x-3 py-2">
        <Button look={look ? "plain" : "main"} disabled={looking.isPending} onClick={() => file.current?.click()}>
          {looking.isPending ? "Reading…" : look ? "Another file…" : "Choose a file…"}
        </Button>
        <span className="text-pencil">
          {asked ? asked.file.name : look ? "What the bank has new" : "or drop it anywhere on this window"}
        </span>
      </p>
      <Alert error={looking.error ?? owners.error} />
      {look && (
        <LookView
          key={asked ? asked.file.name + asked.file.lastModified : "fetched"}
          look={look}
          onAccount={(place, account) =>
            asked
              ? ask({
                  ...asked,
                  account: look.statements.length === 1 ? account : null,
                  accounts: { ...asked.accounts, [place]: account },
                })
              : owners.mutate({ look, accounts: { [place]: account } })
          }
          onColumns={(columns) => asked && ask({ ...asked, columns })}
          onLook={setLook}
          onDone={leave}
        />
      )}
      {!look && <PayeeRules />}
    </div>
  );
}

/** A file that was dropped on the window, or what a bank was asked for, is looked at here, once. */
function useHandedOver(begin: (file: File) => void, show: (look: Look) => void) {
  const { state, key } = useLocation();
  const navigate = useNavigate();
  const latest = useRef({ begin, show });
  latest.current = { begin, show };
  // biome-ignore lint/correctness/useExhaustiveDependencies: once for each time that one is led here
  useEffect(() => {
    const { dropped, look } = (state ?? {}) as { dropped?: unknown; look?: Look };
    if (!(dropped instanceof File) && !look) return;
    void navigate({ search: window.location.search }, { replace: true, state: null });
    if (dropped instanceof File) latest.current.begin(dropped);
    else if (look) latest.current.show(look);
  }, [key]);
}
