import { useMemo, useState } from "react";
import { useHousehold } from "@/shared/api/hooks";
import { Fold } from "@/shared/kit/Fold";
import { Chosen } from "./Chosen";
import { ColumnsChooser } from "./ColumnsChooser";
import { type Choice, type Choices, type Rule, requestOf, whatOf } from "./choices";
import { StatementLook } from "./StatementLook";
import { type Columns, type Look, useEffectOf, useTakeIn } from "./useBankFile";

interface Props {
  look: Look;
  onAccount: (place: number, account: string) => void;
  onColumns: (columns: Columns) => void;
  onLook: (look: Look) => void;
  onDone: () => void;
}

/** A file before anything of it is taken in: each line with what it is, which can be changed. */
export function LookView({ look, onAccount, onColumns, onLook, onDone }: Props) {
  const today = useHousehold().data?.today ?? "";
  const [choices, setChoices] = useState<Choices>({});
  const [rules, setRules] = useState<Rule[]>([]);
  const [others, setOthers] = useState<ReadonlySet<string>>(new Set());
  const request = useMemo(() => requestOf(look, choices, rules), [look, choices, rules]);
  const isReady = look.statements.some(({ account, lines }) => account && lines.length > 0);
  const take = useTakeIn(onDone, (next) => {
    setOthers(changedLines(look, next, choices));
    onLook(next);
  });
  const effect = useEffectOf(isReady ? request : null).data;
  const choose = (key: string, choice: Choice) => setChoices((before) => ({ ...before, [key]: choice }));
  const count = look.statements.reduce((sum, { lines }) => sum + lines.length, 0);
  return (
    <>
      {look.table && (
        <Fold label="Which column is what" isSet={!look.columns}>
          {!look.columns && <p>Say in which columns the day and the amount stand.</p>}
          <ColumnsChooser look={look} onChange={onColumns} />
        </Fold>
      )}
      {count === 0 && look.columns !== null && <p className="py-3">There is no line in it to take in.</p>}
      {look.statements.map((statement, place) => (
        <StatementLook
          // biome-ignore lint/suspicious/noArrayIndexKey: a statement is named by its place
          key={place}
          statement={statement}
          choices={choices}
          categories={effect?.categories ?? {}}
          names={effect?.names ?? {}}
          others={others}
          isAlone={look.statements.length === 1}
          today={today}
          onAccount={(account) => onAccount(place, account)}
          onChoose={choose}
          onRule={(line, category) => {
            setRules((before) => [
              ...before.filter(({ contains }) => contains !== line.payee),
              { id: crypto.randomUUID(), contains: line.payee, category },
            ]);
          }}
        />
      ))}
      <LeftOut lines={look.left_out} />
      {isReady && (
        <Chosen
          request={request}
          rules={rules}
          today={today}
          problem={take.error}
          isSaving={take.isPending}
          onForget={(rule) => setRules((before) => before.filter((oneRule) => oneRule !== rule))}
          onTake={() => take.mutate(request)}
          onLeave={onDone}
        />
      )}
    </>
  );
}

/** Lines that were to be what they were found to be, and are found to be something else now. */
function changedLines(before: Look, after: Look, choices: Choices): ReadonlySet<string> {
  const now = new Map(after.statements.flatMap(({ lines }) => lines).map((line) => [line.key, line]));
  const lines = before.statements.flatMap((statement) => statement.lines);
  const isOther = (line: (typeof lines)[number]) => {
    const next = now.get(line.key);
    return next && (next.is !== line.is || next.entry !== line.entry || next.flow !== line.flow);
  };
  return new Set(
    lines.filter((line) => whatOf(line, choices[line.key]) === "same" && isOther(line)).map(({ key }) => key),
  );
}

/** What of the file was not read, and why. */
function LeftOut({ lines }: { lines: Look["left_out"] }) {
  if (lines.length === 0) return null;
  return (
    <section aria-label="Not read" className="mt-4">
      <h2 className="border-b border-rule text-base text-pencil">Not read</h2>
      <ul className="text-sm">
        {lines.slice(0, 50).map(({ where, why }) => (
          <li key={where} className="py-0.5">
            {where}: {why}
          </li>
        ))}
      </ul>
      {lines.length > 50 && <p className="text-sm">and {lines.length - 50} more.</p>}
    </section>
  );
}
