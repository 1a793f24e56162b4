import { Fragment, type ReactNode, useState } from "react";
import { api, type Schemas } from "@/shared/api/client";
import { useOffered } from "@/shared/api/hooks";
import { Alert } from "@/shared/kit/Alert";
import { Button } from "@/shared/kit/Button";
import { Field } from "@/shared/kit/fields/Field";
import { Select } from "@/shared/kit/fields/Select";
import { useToast } from "@/shared/kit/Toast";
import { type Notice, useAsking } from "./useConnections";

interface Props {
  id: string;
  message: Notice;
  onDone: () => void;
}

interface Chosen {
  line: number;
  number: number;
  text: string;
}

/** A message in which one points at the number that is an account's balance. */
export function Teach({ id, message, onDone }: Props) {
  const toast = useToast();
  const accounts = useOffered() ?? [];
  const [chosen, setChosen] = useState<Chosen | null>(null);
  const [account, setAccount] = useState("");
  const chosenAccount = accounts.find((oneAccount) => oneAccount.account.id === account)?.account;
  const [owed, setOwed] = useState(false);
  const teach = useAsking(
    (body: Schemas["TeachRequest"]) => api.post("/api/connections/{id}/teach", { params: { path: { id } }, body }),
    ({ done }) => {
      toast(done ?? "Taught");
      onDone();
    },
  );
  const choose = (next: string) => {
    setAccount(next);
    const kind = accounts.find((oneAccount) => oneAccount.account.id === next)?.account.kind;
    setOwed(kind === "credit_card" || kind === "credit_line" || kind === "loan");
  };
  return (
    <div className="bg-sheet px-3 py-2">
      <p className="text-sm text-pencil">Press the number that is the balance.</p>
      <div className="py-1">
        {message.lines.map((line, at) => (
          // biome-ignore lint/suspicious/noArrayIndexKey: a line is named by its place
          <p key={at} className="leading-8">
            <Numbers line={line} chosen={chosen?.line === at ? chosen.number : null}>
              {(number, text) => setChosen({ line: at, number, text })}
            </Numbers>
          </p>
        ))}
      </div>
      {chosen && (
        <div className="flex flex-wrap items-end gap-3">
          <Field label={`${chosen.text} is the balance of`} className="w-64">
            {(ids) => (
              <Select
                {...ids}
                value={account}
                placeholder="Choose the account"
                options={accounts.map((oneAccount) => ({
                  value: oneAccount.account.id,
                  label: oneAccount.account.name,
                }))}
                onChange={choose}
              />
            )}
          </Field>
          <label className="flex min-h-9 items-center gap-2">
            <input
              type="checkbox"
              className="size-5 accent-copper"
              checked={owed}
              onChange={(event) => setOwed(event.target.checked)}
            />
            It tells what is owed
          </label>
          <Button
            look="main"
            disabled={!chosenAccount || teach.isPending}
            onClick={() =>
              teach.mutate({ message: message.id, line: chosen.line, number: chosen.number, account, owed })
            }
          >
            Read it from now on
          </Button>
        </div>
      )}
      <Alert error={teach.error} />
    </div>
  );
}

interface NumbersProps {
  line: Notice["lines"][number];
  chosen: number | null;
  children: (number: number, text: string) => void;
}

/** A line of text in which each number can be pressed. */
function Numbers({ line: { text, numbers }, chosen, children: onChoose }: NumbersProps): ReactNode {
  let done = 0;
  const parts = numbers.map(({ start, end }, at) => {
    const before = text.slice(done, start);
    const number = text.slice(start, end);
    done = end;
    return (
      <Fragment key={start}>
        {before}
        <button
          type="button"
          aria-pressed={chosen === at}
          className="min-h-7 rounded-sm border border-rule-strong px-1.5 hover:bg-hover aria-pressed:border-ink aria-pressed:bg-ink aria-pressed:text-paper"
          onClick={() => onChoose(at, number)}
        >
          {number}
        </button>
      </Fragment>
    );
  });
  return [...parts, text.slice(done)];
}
