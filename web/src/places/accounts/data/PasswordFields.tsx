import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { api, Refused, type Schemas, server } from "@/shared/api/client";
import { Button } from "@/shared/kit/Button";
import { Field } from "@/shared/kit/fields/Field";
import { Select } from "@/shared/kit/fields/Select";
import { useToast } from "@/shared/kit/Toast";

type Minutes = NonNullable<Schemas["PasswordRequest"]["minutes"]>;

const STAYS = [
  { value: "60", label: "an hour" },
  { value: "480", label: "8 hours" },
  { value: "1440", label: "a day" },
  { value: "43200", label: "30 days" },
];

export const DOOR = server.queryOptions("get", "/api/door");

/** The optional password: set, changed, removed. */
export function PasswordFields() {
  const door = useQuery(DOOR).data;
  const client = useQueryClient();
  const toast = useToast();
  const [current, setCurrent] = useState("");
  const [next, setNext] = useState("");
  const [stay, setStay] = useState("480");
  const set = useMutation({
    mutationFn: (body: Schemas["PasswordRequest"]) => api.put("/api/password", { body }),
    onSuccess: (session) => {
      setCurrent("");
      setNext("");
      toast(session.has_password ? "The password is set. Everybody else has to use it now." : "No password any more.");
      client.setQueryData(DOOR.queryKey, session);
    },
  });
  if (!door) return null;
  const problem = (field: string) =>
    set.error instanceof Refused ? set.error.details.find(({ loc }) => loc[1] === field)?.msg : undefined;
  return (
    <section aria-label="Password" className="mt-8">
      <h2 className="border-b border-rule-strong text-lg">Password</h2>
      <p className="py-1 text-pencil">
        {door.has_password
          ? "Who opens Next Penny in a browser has to know it."
          : "Whoever uses this computer can open Next Penny. With a password, a browser gets in only with it."}{" "}
        Forgotten, it is set anew at this computer with <code className="text-ink">next-penny password</code>.
      </p>
      <form
        className="flex flex-wrap items-end gap-3"
        onSubmit={(event) => {
          event.preventDefault();
          set.mutate({ current, new: next, minutes: Number(stay) as Minutes });
        }}
      >
        {door.has_password && (
          <Secret
            label="Password now"
            autoComplete="current-password"
            value={current}
            onChange={setCurrent}
            problem={problem("current")}
          />
        )}
        <Secret
          label="New password"
          autoComplete="new-password"
          value={next}
          onChange={setNext}
          problem={problem("new")}
        />
        <Field label="One stays inside for" className="w-40">
          {(ids) => <Select {...ids} value={stay} options={STAYS} onChange={setStay} />}
        </Field>
        <Button type="submit" disabled={next === "" || set.isPending}>
          {door.has_password ? "Change it" : "Set a password"}
        </Button>
        {door.has_password && (
          <>
            <Button
              look="danger"
              disabled={current === "" || set.isPending}
              onClick={() => set.mutate({ current, minutes: 480 })}
            >
              Remove it
            </Button>
            <Leave />
          </>
        )}
      </form>
      {set.error && !problem("current") && !problem("new") && (
        <p role="alert" className="text-rust">
          {set.error.message}
        </p>
      )}
    </section>
  );
}

interface SecretProps {
  label: string;
  autoComplete: "current-password" | "new-password";
  value: string;
  onChange: (value: string) => void;
  problem?: string | undefined;
  isFirst?: boolean;
}

/** A password as it is typed, unseen. */
export function Secret({ label, autoComplete, value, onChange, problem, isFirst = false }: SecretProps) {
  return (
    <Field label={label} problem={problem} className="w-60">
      {(ids) => (
        <input
          {...ids}
          type="password"
          // biome-ignore lint/a11y/noAutofocus: on the login page it is all that there is
          autoFocus={isFirst}
          autoComplete={autoComplete}
          value={value}
          onChange={(event) => onChange(event.target.value)}
          className="field"
        />
      )}
    </Field>
  );
}

/** Go out on this browser. */
function Leave() {
  const client = useQueryClient();
  const toast = useToast();
  const out = useMutation({
    mutationFn: () => api.post("/api/logout"),
    onSuccess: () => client.resetQueries(),
    onError: (error) => toast(error.message),
  });
  return (
    <Button look="link" onClick={() => out.mutate()}>
      Log out here
    </Button>
  );
}
