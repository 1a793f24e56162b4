import { useParams } from "react-router";
import { useAccounts, useHousehold } from "@/shared/api/hooks";
import { counted, dayText, money } from "@/shared/format";
import { Alert } from "@/shared/kit/Alert";
import { BackLink } from "@/shared/kit/BackLink";
import { PageLink } from "@/shared/kit/PageLink";
import { BeginStatement } from "./BeginStatement";
import { standing } from "./standing";
import { type Statement, useNextStatement, useStatements } from "./useStatements";

/** The bank's statements of an account: the next one to begin, and those that were held against the entries. */
export function Statements() {
  const { id = "" } = useParams();
  const row = useAccounts().data?.accounts.find(({ account }) => account.id === id);
  const { data, error } = useStatements(id);
  const proposed = useNextStatement(id).data;
  const half = data?.find((oneStatement) => !oneStatement.finished);
  return (
    <div className="mx-auto max-w-4xl px-4 py-4 md:px-6">
      <BackLink to={`/accounts/${encodeURIComponent(id)}`} name={row?.account.name ?? "Register"} />
      <h1 className="text-xl">Statements</h1>
      <Alert error={error} />
      {data && row && (
        <>
          <p className="mb-3 text-pencil">
            {half
              ? "One is half done: go on with it, or begin another."
              : "Hold a statement of the bank against what is recorded: tick what is on it, until nothing is missing."}
          </p>
          {proposed && (
            <BeginStatement
              key={`${proposed.from} ${proposed.to} ${proposed.opening}`}
              account={row.account}
              isDebt={row.is_debt}
              proposed={proposed}
            />
          )}
          {data.length > 0 && (
            <ul aria-label="Statements" className="mt-6 border-t border-rule-strong">
              {data.map((oneStatement) => (
                <StatementLine key={oneStatement.id} statement={oneStatement} isDebt={row.is_debt} />
              ))}
            </ul>
          )}
        </>
      )}
    </div>
  );
}

function StatementLine({ statement, isDebt }: { statement: Statement; isDebt: boolean }) {
  const today = useHousehold().data?.today;
  const { account, id, currency, finished } = statement;
  const closing = money(isDebt ? -statement.closing : statement.closing, currency);
  return (
    <li className="flex min-h-10 flex-wrap items-center gap-x-4 border-b border-rule">
      <PageLink to={`/accounts/${encodeURIComponent(account)}/statements/${encodeURIComponent(id)}`}>
        {dayText(statement.from, today)} to {dayText(statement.to, today)}
      </PageLink>
      <span className="min-w-28 text-right whitespace-nowrap">{closing}</span>
      <span className={`flex-1 ${finished ? "text-pencil" : statement.is_even ? "" : "text-rust"}`}>
        {finished ? `finished on ${dayText(finished, today)}` : standing(statement)}
      </span>
      <span className="text-sm text-pencil">
        {statement.ticked === 1 ? "1 entry" : `${counted(statement.ticked)} entries`}
      </span>
    </li>
  );
}
