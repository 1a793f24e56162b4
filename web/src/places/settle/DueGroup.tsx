import type { RefObject } from "react";
import { type DueActions, DueRow } from "./DueRow";
import { type Due, keyOf } from "./useSettle";

export const GROUPS = [
  { status: "past_due", title: "Past due" },
  { status: "assumed", title: "Assumed: it always happens" },
  { status: "today", title: "Due today" },
  { status: "coming", title: "Coming up" },
] as const;

export type Editing = { key: string; what: "settle" | "put_off" } | null;

interface GroupProps {
  status: (typeof GROUPS)[number]["status"];
  title: string;
  lines: Due[];
  today: string;
  chosen: string[];
  editing: Editing;
  problem: string | undefined;
  actions: RefObject<DueActions | null>;
}

/** What is due in one way: late, assumed, today or soon. */
export function DueGroup({ status, title, lines, today, chosen, editing, problem, actions }: GroupProps) {
  if (lines.length === 0) return null;
  return (
    <section aria-label={title} className="mb-5">
      <h2 className={`border-b border-rule-strong text-lg ${status === "past_due" ? "text-rust" : ""}`}>{title}</h2>
      <ul>
        {lines.map((line) => {
          const key = keyOf(line);
          return (
            <DueRow
              key={key}
              line={line}
              today={today}
              isChosen={chosen.includes(key)}
              editing={editing?.key === key ? editing.what : null}
              problem={problem}
              actions={actions}
            />
          );
        })}
      </ul>
    </section>
  );
}
