import type { ImportRequest, Line, Look } from "./useBankFile";

/** What a person chose for a line: "same" as it was found, "new", "wait", "leave", or "move:" and an account. */
export interface Choice {
  what?: string;
  category?: string;
}

export type Choices = Record<string, Choice>;

/** What a line is to be: as it was chosen, else as found; what was only offered waits. */
export const whatOf = (line: Line, choice: Choice | undefined): string =>
  choice?.what ?? (line.offered ? "wait" : "same");

/** Whether a line becomes an entry that a person sorts. */
export const isNew = (line: Line, choice: Choice | undefined): boolean => {
  const what = whatOf(line, choice);
  return what === "new" || (what === "same" && line.is === "new");
};

export interface Rule {
  id: string;
  contains: string;
  category: string;
}

/** The lines as they were chosen, for the app to take in. */
export function requestOf(look: Look, choices: Choices, rules: Rule[]): ImportRequest {
  return {
    look: look.look,
    statements: look.statements.flatMap((statement) =>
      statement.account
        ? [
            {
              account: statement.account,
              lines: statement.lines.flatMap((line) => decisionOf(line, choices[line.key]) ?? []),
            },
          ]
        : [],
    ),
    payee_rules: rules.map((rule) => ({ ...rule, account: null, least: null, most: null, shown: "" })),
  };
}

function decisionOf(line: Line, choice: Choice | undefined) {
  const what = whatOf(line, choice);
  if (line.is === "known" || what === "wait") return null;
  if (what === "leave") return { key: line.key, take: false };
  if (what.startsWith("move:")) return { key: line.key, take: true, is: "transfer" as const, account: what.slice(5) };
  const category = choice?.category && isNew(line, choice) ? { category: choice.category } : {};
  return { key: line.key, take: true, ...(what === "new" && { is: "new" as const }), ...category };
}
