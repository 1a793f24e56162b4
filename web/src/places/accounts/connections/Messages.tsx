import { useState } from "react";
import { api, type Schemas } from "@/shared/api/client";
import { useAct, useOffered } from "@/shared/api/hooks";
import { dayText, money } from "@/shared/format";
import { Alert } from "@/shared/kit/Alert";
import { Button } from "@/shared/kit/Button";
import { Teach } from "./Teach";
import { type Notice, useNotices } from "./useConnections";

const AT_FIRST = 6;

/** A mailbox's newest messages: what is read of each, and teaching where the balance stands. */
export function Messages({ id, today }: { id: string; today: string }) {
  const { data, error } = useNotices(id);
  const [opened, setOpened] = useState<string | null>(null);
  const [isWhole, setWhole] = useState(false);
  const messages = data?.messages ?? [];
  return (
    <div className="mt-2 border-l border-rule pl-3">
      <Alert error={error} />
      {data?.patterns.map((pattern) => (
        <Taught key={pattern.sender} id={id} pattern={pattern} />
      ))}
      {data && messages.length === 0 && <p className="text-pencil">There is no message in it.</p>}
      <ul aria-label="Messages">
        {messages.slice(0, isWhole ? undefined : AT_FIRST).map((message) => (
          <li key={message.id} className="border-t border-rule py-1">
            <button
              type="button"
              aria-expanded={opened === message.id}
              className="flex min-h-9 w-full flex-wrap items-baseline gap-x-3 text-left hover:bg-hover"
              onClick={() => setOpened(opened === message.id ? null : message.id)}
            >
              <span className="w-24 text-pencil">{dayText(message.date, today)}</span>
              <span>{message.subject || "No subject"}</span>
              <span className="text-sm text-pencil">{message.sender}</span>
              <Told message={message} patterns={data?.patterns ?? []} today={today} />
            </button>
            {opened === message.id && <Teach id={id} message={message} onDone={() => setOpened(null)} />}
          </li>
        ))}
      </ul>
      {messages.length > AT_FIRST && !isWhole && (
        <Button look="link" onClick={() => setWhole(true)}>
          All {messages.length}
        </Button>
      )}
    </div>
  );
}

type Pattern = Schemas["PatternRow"];

/** What is read of a message, or why nothing is. */
function Told({ message, patterns, today }: { message: Notice; patterns: Pattern[]; today: string }) {
  const pattern = patterns.find(({ sender }) => sender === message.sender);
  if (message.problem) return <span className="basis-full text-sm text-rust">{message.problem}</span>;
  if (!message.told || !pattern) return null;
  return (
    <span className="ml-auto text-right">
      {money(message.told.balance, pattern.currency)}{" "}
      <span className="text-sm text-pencil">
        {dayText(message.told.date, today)}
        {!message.taken && ", not taken yet"}
      </span>
    </span>
  );
}

/** Where in a sender's messages the balance stands, as it was taught. */
function Taught({ id, pattern }: { id: string; pattern: Pattern }) {
  const accounts = useOffered([pattern.account]) ?? [];
  const forget = useAct(() =>
    api.delete("/api/connections/{id}/taught", { params: { path: { id }, query: { sender: pattern.sender } } }),
  );
  const name = accounts.find(({ account }) => account.id === pattern.account)?.account.name;
  return (
    <p className="flex flex-wrap items-center gap-x-3 py-1">
      <span>
        {name}, from {pattern.sender}: “{pattern.before}
        <strong className="font-semibold text-copper">{pattern.owed ? "what is owed" : "the balance"}</strong>
        {pattern.after}”
      </span>
      <Button look="link" onClick={() => forget.mutate(undefined)}>
        Forget it
      </Button>
    </p>
  );
}
