import { useOffered } from "@/shared/api/hooks";
import { counted, dayText, money } from "@/shared/format";
import { Field } from "@/shared/kit/fields/Field";
import { Select } from "@/shared/kit/fields/Select";
import type { Choice, Choices } from "./choices";
import { LineGroup } from "./LineGroup";
import { LineRow } from "./LineRow";
import type { Line, Statement } from "./useBankFile";

interface Props {
  statement: Statement;
  choices: Choices;
  categories: Record<string, string>;
  /** By key, the name under which what is new is recorded, where that is not the bank's. */
  names: Record<string, string>;
  others: ReadonlySet<string>;
  /** The file has the lines of no other account. */
  isAlone: boolean;
  today: string;
  onAccount: (account: string) => void;
  onChoose: (key: string, choice: Choice) => void;
  onRule: (line: Line, category: string) => void;
}

/** What a file says of one account: whose it is, and its lines by what they were found to be. */
export function StatementLook(props: Props) {
  const { statement, today, onAccount } = props;
  const rows = useOffered([statement.account]) ?? [];
  const currency = statement.currency ?? rows[0]?.account.currency ?? "USD";
  const account = statement.account;
  return (
    <section aria-label={nameOf(statement)} className="mt-4">
      <div className="flex flex-wrap items-end gap-x-6 gap-y-2">
        <Field label={`${nameOf(statement)} goes to`} className="w-72">
          {(ids) => (
            <Select
              {...ids}
              value={account ?? ""}
              placeholder="Choose the account"
              options={rows
                .filter((oneRow) => !statement.currency || oneRow.account.currency === statement.currency || !account)
                .map((oneRow) => ({ value: oneRow.account.id, label: oneRow.account.name }))}
              onChange={onAccount}
            />
          )}
        </Field>
        <p className="pb-2 text-pencil">{daysText(statement, currency, today)}</p>
      </div>
      {!account ? (
        <p className="py-2">Choose the account that these lines are of: then each is looked up in it.</p>
      ) : (
        <Groups {...props} currency={currency} />
      )}
    </section>
  );
}

function nameOf({ bank_account, name }: Statement): string {
  if (!bank_account) return "This file";
  return name ? `“${name}” (…${bank_account})` : `The account ending in ${bank_account}`;
}

function daysText({ lines, from, to, closing }: Statement, currency: string, today: string): string {
  const count = lines.length === 1 ? "1 line" : `${counted(lines.length)} lines`;
  const days = from && to ? `, ${dayText(from, today)} to ${dayText(to, today)}` : "";
  const bankBalance = closing
    ? `. The bank held ${money(closing.balance, currency)} on ${dayText(closing.date, today)}`
    : "";
  return `${count}${days}${bankBalance}.`;
}

/** The lines of a statement by what they are taken for, those to decide first. */
function Groups(props: Props & { currency: string }) {
  const { statement, choices, categories, names, others, isAlone, today, currency, onChoose, onRule } = props;
  const account = statement.account;
  const of = (fits: (line: Line) => boolean) => statement.lines.filter(fits);
  const row = (line: Line) => (
    <LineRow
      key={line.key}
      line={line}
      account={account ?? ""}
      currency={currency}
      today={today}
      choice={choices[line.key]}
      category={categories[line.key]}
      name={names[line.key]}
      isOther={others.has(line.key)}
      onChoose={(choice) => onChoose(line.key, choice)}
      onRule={(category) => onRule(line, category)}
    />
  );
  const all = (lines: Line[]) => (what: string) => {
    for (const line of lines) onChoose(line.key, { ...choices[line.key], what });
  };
  const offered = of((line) => line.offered);
  const matched = of((line) => !line.offered && ["entry", "occurrence", "transfer"].includes(line.is));
  const fresh = of((line) => line.is === "new");
  return (
    <>
      <LineGroup
        of={isAlone ? "" : nameOf(statement)}
        title="To decide"
        lines={offered}
        onAll={all(offered)}
        row={row}
      />
      <LineGroup of={isAlone ? "" : nameOf(statement)} title="New" lines={fresh} row={row} />
      <LineGroup of={isAlone ? "" : nameOf(statement)} title="Found" lines={matched} onAll={all(matched)} row={row} />
      <LineGroup
        of={isAlone ? "" : nameOf(statement)}
        title="Taken in before"
        lines={of((line) => line.is === "known")}
        row={row}
      />
    </>
  );
}
