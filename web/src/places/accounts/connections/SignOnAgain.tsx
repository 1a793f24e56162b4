import { useState } from "react";
import { Secret } from "@/places/accounts/data/PasswordFields";
import { answer, api, type Schemas } from "@/shared/api/client";
import { Button } from "@/shared/kit/Button";
import { Field } from "@/shared/kit/fields/Field";
import { useToast } from "@/shared/kit/Toast";
import { type Connection, problemAt, useAsking } from "./useConnections";

/** A bank's consent is renewed by signing on once more. */
export function SignOnAgain({ id, onDone }: { id: string; onDone: () => void }) {
  const toast = useToast();
  const [user, setUser] = useState("");
  const [password, setPassword] = useState("");
  const signOn = useAsking(
    (body: Schemas["SignOnRequest"]) =>
      answer<Connection>(api.POST("/api/connections/{id}/sign-on", { params: { path: { id } }, body })),
    () => {
      toast("Signed on.");
      onDone();
    },
  );
  return (
    <form
      className="flex flex-wrap items-end gap-3 py-2"
      onSubmit={(event) => {
        event.preventDefault();
        signOn.mutate({ user, password });
      }}
    >
      <Field label="User" problem={problemAt(signOn.error, "user")} className="w-60">
        {(ids) => (
          <input
            {...ids}
            // biome-ignore lint/a11y/noAutofocus: it was asked for just now
            autoFocus
            autoComplete="off"
            value={user}
            onChange={(event) => setUser(event.target.value)}
            className="field"
          />
        )}
      </Field>
      <Secret
        label="Password at the bank"
        autoComplete="new-password"
        value={password}
        onChange={setPassword}
        problem={problemAt(signOn.error, "password") ?? problemAt(signOn.error, "address")}
      />
      <Button type="submit" disabled={signOn.isPending}>
        Sign on
      </Button>
    </form>
  );
}
