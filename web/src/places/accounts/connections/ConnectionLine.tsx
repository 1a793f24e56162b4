import { type ReactNode, useState } from "react";
import { useNavigate } from "react-router";
import { api, type Schemas } from "@/shared/api/client";
import { dayText } from "@/shared/format";
import { Alert } from "@/shared/kit/Alert";
import { Button } from "@/shared/kit/Button";
import { useToast } from "@/shared/kit/Toast";
import { keptSearch, useView } from "@/shared/view";
import { SignOnAgain } from "./SignOnAgain";
import { type Connection, KIND_NAMES, useAsking } from "./useConnections";

interface Props {
  connection: Connection;
  where: string;
  today: string;
  children?: ReactNode;
}

/** One service: when it was last asked and what came, and asking it. */
export function ConnectionLine({ connection, where, today, children }: Props) {
  const { id, kind, daily, problem } = connection;
  const path = { params: { path: { id } } };
  const toast = useToast();
  const navigate = useNavigate();
  const { search } = useView();
  const [isSigning, setSigning] = useState(false);
  const ask = useAsking(
    () => api.post("/api/connections/{id}/ask", path),
    ({ said, look }) => {
      if (look)
        void navigate({ pathname: "/accounts/your/bank-files", search: keptSearch(search) }, { state: { look } });
      else toast(said);
    },
  );
  const change = useAsking((body: Schemas["ConnectionChange"]) => api.put("/api/connections/{id}", { ...path, body }));
  const end = useAsking(
    async () => void (await api.delete("/api/connections/{id}", path)),
    () => toast("Disconnected. What came from it stays."),
  );
  return (
    <li aria-label={`${KIND_NAMES[kind]}, ${where}`} className="border-b border-rule py-3">
      <p className="flex flex-wrap items-baseline gap-x-3">
        <span className="font-semibold">{KIND_NAMES[kind]}</span>
        <span className="break-all text-sm text-pencil">{where}</span>
      </p>
      <p className="text-sm">{standing(connection, today)}</p>
      {problem && !ask.error && <p className="text-rust">{problem}</p>}
      <Alert error={ask.error ?? change.error} />
      <p className="flex flex-wrap items-center gap-2 pt-1">
        <Button look="main" disabled={ask.isPending} onClick={() => ask.mutate(undefined)}>
          {ask.isPending ? "Asking…" : "Get what is new"}
        </Button>
        {kind === "bank" && (
          <Button aria-expanded={isSigning} onClick={() => setSigning(!isSigning)}>
            Sign on again
          </Button>
        )}
        <label className="flex min-h-9 items-center gap-2">
          <input
            type="checkbox"
            className="size-5 accent-copper"
            checked={daily}
            disabled={change.isPending}
            onChange={(event) => change.mutate({ daily: event.target.checked })}
          />
          By itself, once a day
        </label>
        <Button look="danger" className="ml-auto" onClick={() => end.mutate(undefined)}>
          Disconnect
        </Button>
      </p>
      {isSigning && <SignOnAgain id={id} onDone={() => setSigning(false)} />}
      {children}
    </li>
  );
}

function standing({ kind, asked, said, until, has_ended }: Connection, today: string): string {
  const last = asked ? `Last asked ${asked === today ? "today" : `on ${dayText(asked, today)}`}` : "Not asked yet";
  const came = said ? `: ${said.charAt(0).toLowerCase()}${said.slice(1)}` : "";
  const wording = `${last}${asked ? came : ""}`;
  const consent =
    kind === "bank" && until ? ` The consent ${has_ended ? "ended" : "is good until"} ${dayText(until, today)}.` : "";
  return `${wording.endsWith(".") ? wording : `${wording}.`}${consent}`;
}
