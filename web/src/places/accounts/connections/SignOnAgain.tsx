import { useState } from "react";
import { api, type Schemas } from "@/shared/api/client";
import { Button } from "@/shared/kit/Button";
import { useToast } from "@/shared/kit/Toast";
import { SignOnFields, type Who } from "./SignOnFields";
import { problemAt, useAsking } from "./useConnections";

/** A bank's consent is renewed by signing on once more. */
export function SignOnAgain({ id, onDone }: { id: string; onDone: () => void }) {
  const toast = useToast();
  const [who, setWho] = useState<Who>({ user: "", password: "" });
  const signOn = useAsking(
    (body: Schemas["SignOnRequest"]) => api.post("/api/connections/{id}/sign-on", { params: { path: { id } }, body }),
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
        signOn.mutate(who);
      }}
    >
      <SignOnFields who={who} error={signOn.error} onChange={setWho} isFirst />
      {problemAt(signOn.error, "address") && (
        <p role="alert" className="basis-full text-rust">
          {problemAt(signOn.error, "address")}
        </p>
      )}
      <Button type="submit" disabled={signOn.isPending}>
        Sign on
      </Button>
    </form>
  );
}
