import { useMutation, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { Secret } from "@/places/accounts/data/PasswordFields";
import { api } from "@/shared/api/client";
import { Button } from "@/shared/kit/Button";

/** What a browser sees that is not inside. */
export function Login() {
  const [password, setPassword] = useState("");
  const client = useQueryClient();
  const enter = useMutation({
    mutationFn: () => api.post("/api/login", { body: { password } }),
    onSuccess: () => client.resetQueries(),
  });
  return (
    <main className="mx-auto flex min-h-dvh max-w-sm flex-col justify-center gap-4 p-6">
      <h1 className="text-xl">Next Penny</h1>
      <form
        className="flex flex-col gap-3"
        onSubmit={(event) => {
          event.preventDefault();
          enter.mutate();
        }}
      >
        <Secret
          label="Password"
          autoComplete="current-password"
          value={password}
          onChange={setPassword}
          problem={enter.error?.message}
          isFirst
        />
        <Button look="main" type="submit" className="self-start" disabled={password === "" || enter.isPending}>
          {enter.isPending ? "Looking…" : "Go in"}
        </Button>
      </form>
      <p className="text-sm text-pencil">
        Forgotten? At the computer that Next Penny runs on, <code className="text-ink">next-penny password</code> sets
        another.
      </p>
    </main>
  );
}
