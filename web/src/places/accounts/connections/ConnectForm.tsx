import { useState } from "react";
import { api, type Schemas } from "@/shared/api/client";
import { Button } from "@/shared/kit/Button";
import { Field } from "@/shared/kit/fields/Field";
import { useToast } from "@/shared/kit/Toast";
import { SignOnFields, type Who } from "./SignOnFields";
import { type Connection, problemAt, useAsking } from "./useConnections";

interface Props {
  kind: Connection["kind"];
  demo: Schemas["DemoAnswer"] | undefined;
  onDone: () => void;
}

const ADDRESSES: Record<Connection["kind"], { label: string; hint: string }> = {
  bank: { label: "Address", hint: "Where the bank answers OFX 2.2, such as https://bank.example/ofx." },
  mailbox: {
    label: "Folder",
    hint: "A Maildir on this computer, in which your mail program keeps the bank's messages.",
  },
  rates: { label: "Address", hint: "Where rates are told by day as a table: date, from, to, rate." },
};

/** One more service: its address, and for a bank who signs on. */
export function ConnectForm({ kind, demo, onDone }: Props) {
  const toast = useToast();
  const [address, setAddress] = useState("");
  const [who, setWho] = useState<Who>({ user: "", password: "" });
  const connect = useAsking(
    (body: Schemas["ConnectRequest"]) => api.post("/api/connections", { body }),
    ({ said }) => {
      toast(said ? `Connected. ${said}` : "Connected.");
      onDone();
    },
  );
  const { label, hint } = ADDRESSES[kind];
  const tried = () => {
    setAddress(demo?.[kind] ?? "");
    if (kind === "bank") setWho({ user: demo?.user ?? "", password: demo?.password ?? "" });
  };
  return (
    <form
      className="flex flex-wrap items-start gap-3 pb-2"
      onSubmit={(event) => {
        event.preventDefault();
        connect.mutate({ kind, address, ...who });
      }}
    >
      <Field label={label} hint={hint} problem={problemAt(connect.error, "address")} className="w-full max-w-xl">
        {(ids) => (
          <input
            {...ids}
            // biome-ignore lint/a11y/noAutofocus: it was asked for just now
            autoFocus
            autoComplete="off"
            value={address}
            onChange={(event) => setAddress(event.target.value)}
            className="field"
          />
        )}
      </Field>
      {kind === "bank" && (
        <>
          <SignOnFields who={who} error={connect.error} onChange={setWho} />
          <p className="basis-full text-sm text-pencil">
            The password is sent to the bank once and kept nowhere. The bank gives a key for it, good for some weeks.
          </p>
        </>
      )}
      <p className="flex basis-full flex-wrap gap-2">
        <Button look="main" type="submit" disabled={address.trim() === "" || connect.isPending}>
          {connect.isPending ? "Asking…" : "Connect"}
        </Button>
        {demo?.is_demo && <Button onClick={tried}>Fill in the one to try</Button>}
        <Button onClick={onDone}>Cancel</Button>
      </p>
    </form>
  );
}
