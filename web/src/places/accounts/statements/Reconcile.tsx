import { useNavigate, useParams } from "react-router";
import { useAccounts, useHousehold } from "@/shared/api/hooks";
import { counted, dayText, money } from "@/shared/format";
import { Alert } from "@/shared/kit/Alert";
import { BackLink } from "@/shared/kit/BackLink";
import { Button } from "@/shared/kit/Button";
import { keptSearch, useView } from "@/shared/view";
import { outstanding, standing } from "./standing";
import { TickList } from "./TickList";
import { type Statement, useDelete, useFinish, useOpenAgain, useStatement } from "./useStatements";

/** One statement held against the entries: what is missing still on top, and each entry to be ticked. */
export function Reconcile() {
  const { id = "", statement = "" } = useParams();
  const { data, error } = useStatement(statement);
  const row = useAccounts().data?.accounts.find(({ account }) => account.id === id);
  const back = `/accounts/${encodeURIComponent(id)}/statements`;
  const today = useHousehold().data?.today;
  return (
    <div className="mx-auto max-w-4xl px-4 py-4 md:px-6">
      <BackLink to={back} name="Statements" />
      <Alert error={error} />
      {data && row && (
        <>
          <h1 className="text-xl">
            {row.account.name} to {dayText(data.statement.to, today)}
          </h1>
          <Head statement={data.statement} isDebt={row.is_debt} back={back} />
          <TickList statement={data.statement} lines={data.lines} />
        </>
      )}
    </div>
  );
}

/** The balances, what is missing, and what can be done with the statement. */
function Head({ statement, isDebt, back }: { statement: Statement; isDebt: boolean; back: string }) {
  const today = useHousehold().data?.today;
  const { id, currency, finished, is_even } = statement;
  const amountText = (amount: number) => money(isDebt ? -amount : amount, currency);
  return (
    <div className="sticky top-0 z-10 flex flex-wrap items-center gap-x-4 gap-y-1 border-b border-rule-strong bg-paper py-2">
      <p role="status" className={`w-full text-lg font-semibold @2xl:w-auto ${is_even ? "text-teal" : "text-rust"}`}>
        {finished ? `Finished on ${dayText(finished, today)}` : standing(statement)}
      </p>
      <p className="flex-1 text-sm text-pencil">
        From {amountText(statement.opening)} on {dayText(statement.from, today)} to {amountText(statement.closing)} on{" "}
        {dayText(statement.to, today)}; {counted(statement.ticked)} ticked
        {outstanding(statement) && `, ${outstanding(statement)}`}.
      </p>
      {finished ? <OpenAgain id={id} /> : <Finish statement={statement} back={back} />}
    </div>
  );
}

function OpenAgain({ id }: { id: string }) {
  const open = useOpenAgain(id);
  return (
    <Button className="!min-h-9" disabled={open.isPending} onClick={() => open.mutate(undefined)}>
      Open it again
    </Button>
  );
}

function Finish({ statement, back }: { statement: Statement; back: string }) {
  const finish = useFinish(statement.id);
  const remove = useDelete(statement.id);
  const navigate = useNavigate();
  const { search } = useView();
  const leave = () => navigate({ pathname: back, search: keptSearch(search) });
  return (
    <span className="flex flex-wrap gap-x-2">
      {statement.is_even ? (
        <Button look="main" className="!min-h-9" disabled={finish.isPending} onClick={() => finish.mutate(false)}>
          Finish it
        </Button>
      ) : (
        <Button className="!min-h-9" disabled={finish.isPending} onClick={() => finish.mutate(true)}>
          Book the difference and finish
        </Button>
      )}
      <Button
        look="link"
        className="!min-h-9"
        disabled={remove.isPending}
        onClick={() => remove.mutate(undefined, { onSuccess: leave })}
      >
        Delete
      </Button>
    </span>
  );
}
