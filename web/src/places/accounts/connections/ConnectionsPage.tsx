import { useState } from "react";
import { useHousehold } from "@/shared/api/hooks";
import { Alert } from "@/shared/kit/Alert";
import { BackLink } from "@/shared/kit/BackLink";
import { Button } from "@/shared/kit/Button";
import { ConnectForm } from "./ConnectForm";
import { ConnectionLine } from "./ConnectionLine";
import { DemoTry } from "./DemoTry";
import { Messages } from "./Messages";
import { type Connection, KIND_NAMES, useConnections, useDemo } from "./useConnections";

const KINDS: Connection["kind"][] = ["bank", "mailbox", "rates"];

/** Services that are asked for what is new: a bank, a mailbox with its notices, exchange rates. */
export function ConnectionsPage() {
  const today = useHousehold().data?.today ?? "";
  const demo = useDemo().data;
  const { data, error } = useConnections();
  const [kind, setKind] = useState<Connection["kind"] | null>(null);
  return (
    <div className="mx-auto max-w-4xl px-4 py-4 md:px-6">
      <BackLink to="/accounts" name="Accounts" />
      <h1 className="text-xl">Connections</h1>
      <p className="text-pencil">
        What a bank booked, what it writes to you each morning, what other currencies are worth: asked when you say so,
        and looked at before it counts.
      </p>
      <Alert error={error} />
      {demo?.is_demo && <DemoTry demo={demo} today={today} />}
      {data?.length === 0 && <p className="py-3">Nothing is connected yet.</p>}
      <ul aria-label="Connections" className="mt-2">
        {data?.map((connection) => (
          <ConnectionLine
            key={connection.id}
            connection={connection}
            where={demo?.[connection.kind] === connection.address ? "the one to try" : connection.address}
            today={today}
          >
            {connection.kind === "mailbox" && <Messages id={connection.id} today={today} />}
          </ConnectionLine>
        ))}
      </ul>
      <section aria-label="Connect" className="mt-4">
        <h2 className="border-b border-rule-strong text-lg">Connect</h2>
        <p className="flex flex-wrap gap-2 py-2">
          {KINDS.map((connectionKind) => (
            <Button
              key={connectionKind}
              aria-expanded={kind === connectionKind}
              onClick={() => setKind(kind === connectionKind ? null : connectionKind)}
            >
              {KIND_NAMES[connectionKind]}
            </Button>
          ))}
        </p>
        {kind && <ConnectForm key={kind} kind={kind} demo={demo} onDone={() => setKind(null)} />}
      </section>
    </div>
  );
}
