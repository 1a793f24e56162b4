import { Check } from "lucide-react";
import { useState } from "react";
import { useParams } from "react-router";
import { useLoanPage } from "@/places/debts/loan/useLoanPage";
import { api, type Schemas } from "@/shared/api/client";
import { useAct } from "@/shared/api/hooks";
import { fitting, readDraft, removeDraft, writeDraft } from "@/shared/drafts";
import { problemOf } from "@/shared/fields";
import { digits, money } from "@/shared/format";
import { useCalm } from "@/shared/hooks/useCalm";
import { BackLink } from "@/shared/kit/BackLink";
import { Button } from "@/shared/kit/Button";
import { DayField } from "@/shared/kit/fields/TypedFields";
import { Missing } from "@/shared/kit/Missing";
import { Causes } from "./Causes";
import { KeptChecks } from "./KeptChecks";
import { BLANK, type Figures, figuresOf, type Item, ROWS, readStatement, useStatementCheck } from "./statement";

/** A lender's statement typed off, held against the books figure by figure. */
export function StatementCheck() {
  const { id = "" } = useParams();
  const { data, error } = useLoanPage(id);
  return (
    <div className="mx-auto max-w-6xl px-4 py-4 md:px-6">
      <BackLink to={`/debts/${encodeURIComponent(id)}`} name={data?.account.name ?? "The loan"} />
      {error && <Missing error={error} />}
      {data && <Sheet page={data} />}
    </div>
  );
}

function Sheet({ page }: { page: Schemas["LoanPage"] }) {
  const { account, currency, today } = page;
  const { date, figures, setDate, setFigures, setBoth } = useTyped(account.id, today);
  const read = readStatement(date, figures, currency);
  const statement = "value" in read && date ? read.value : null;
  const { data, error, isFetching } = useStatementCheck(account.id, useCalm(statement));
  const keep = useAct(() =>
    api.post("/api/loans/{account}/statement-checks", {
      params: { path: { account: account.id } },
      body: statement ?? { date },
    }),
  );
  const shown = statement && !error ? data : undefined;
  const hasEscrow = Boolean(account.loan?.escrow_account || account.loan?.escrow?.length);
  return (
    <>
      <h1 className="text-xl">Statement check</h1>
      <p className="mt-1 text-pencil">
        Type off what the lender’s statement says; leave empty what it does not show. The books are those at the end of
        its date.
      </p>
      <div className="mt-3 flex flex-wrap items-end gap-x-4 gap-y-2">
        <DayField
          label="Date of the statement"
          value={date}
          onChange={setDate}
          max={today}
          problem={error?.message}
          className="w-56"
        />
        <Button disabled={!statement || Boolean(error) || keep.isPending} onClick={() => keep.mutate(undefined)}>
          Keep this check
        </Button>
        <Button look="link" onClick={() => setFigures(BLANK)}>
          Clear
        </Button>
      </div>
      <div className="mt-3 grid gap-x-10 gap-y-3 @4xl:grid-cols-[36rem_minmax(0,1fr)]">
        <FiguresTable {...{ hasEscrow, figures, read, shown, currency }} onChange={setFigures} />
        {shown && isFetching && <p className="text-pencil">Looking through the books …</p>}
        {shown && !isFetching && (
          <div>
            <Verdict shown={shown} />
            <Causes causes={shown.causes} left={differing(shown)} />
          </div>
        )}
      </div>
      <KeptChecks
        account={account.id}
        currency={currency}
        onShow={(keptStatement) => {
          setBoth({ date: keptStatement.date, figures: figuresOf(keptStatement, currency) });
        }}
      />
    </>
  );
}

/** What is typed of a statement: it stays in this browser while one looks elsewhere. */
function useTyped(account: string, today: string) {
  const name = `statement ${account}`;
  const [typed, setTyped] = useState<Typed>(() => {
    const blank = { date: today, figures: BLANK };
    return { ...blank, ...fitting(blank, readDraft(name)) };
  });
  const set = (part: Partial<Typed>) => {
    const next = { ...typed, ...part };
    setTyped(next);
    if (Object.values(next.figures).some((figure) => figure !== "")) writeDraft(name, next);
    else removeDraft(name);
  };
  return {
    ...typed,
    setDate: (date: string) => set({ date }),
    setFigures: (figures: Figures) => set({ figures }),
    setBoth: set,
  };
}

interface Typed {
  date: string;
  figures: Figures;
}

const differing = (shown: Schemas["CheckAnswer"]): Item[] =>
  shown.compared.filter((comparison) => comparison.difference !== 0).map((comparison) => comparison.item);

interface RowProps {
  name: string;
  value: string;
  problem: string | undefined;
  compared: Schemas["ComparedFigure"] | undefined;
  currency: string;
  onChange: (value: string) => void;
}

/** One figure, typed beside what the books have. */
function FigureRow({ name, value, problem, compared, currency, onChange }: RowProps) {
  const difference = compared?.difference ?? 0;
  return (
    <tr className="border-b border-rule">
      <td className="py-1 text-left">{name}</td>
      <td>
        <input
          aria-label={`${name}, on the statement`}
          aria-invalid={Boolean(problem)}
          inputMode="decimal"
          value={value}
          onChange={(event) => onChange(event.target.value)}
          className="field !min-h-9 !w-28 text-right @2xl:!w-36"
        />
        {problem && <span className="block text-sm text-rust">{problem}</span>}
      </td>
      <td className="hidden py-1 pl-4 @2xl:table-cell">{compared ? digits(compared.books, currency) : ""}</td>
      <td className="pl-4 whitespace-nowrap">
        {compared && difference === 0 && (
          <span className="inline-flex items-center gap-1 text-teal">
            <Check size={16} aria-hidden /> agrees
          </span>
        )}
        {difference !== 0 && (
          <strong className="text-rust">
            {difference > 0 ? "+" : "−"}
            {money(Math.abs(difference), currency)}
          </strong>
        )}
        {compared && difference !== 0 && (
          <span className="block text-sm text-pencil @2xl:hidden">books {digits(compared.books, currency)}</span>
        )}
      </td>
    </tr>
  );
}

function Verdict({ shown }: { shown: Schemas["CheckAnswer"] }) {
  const wrong = differing(shown).length;
  return (
    <div aria-live="polite">
      <p className="text-lg">
        {shown.agrees
          ? "It all agrees, to the cent."
          : `${wrong === 1 ? "One figure differs" : `${wrong} figures differ`}.${shown.causes.length === 0 ? " Nothing that is known of the books explains it: look at the payments below." : ""}`}
      </p>
      {shown.notes.map((note) => (
        <p key={note} className="text-pencil">
          {note}
        </p>
      ))}
    </div>
  );
}

interface TableProps {
  hasEscrow: boolean;
  figures: Figures;
  read: ReturnType<typeof readStatement>;
  shown: Schemas["CheckAnswer"] | undefined;
  currency: string;
  onChange: (figures: Figures) => void;
}

/** Each figure of the statement beside the books'. */
function FiguresTable({ hasEscrow, figures, read, shown, currency, onChange }: TableProps) {
  return (
    <table className="w-full border-collapse self-start text-right">
      <thead>
        <tr className="border-b border-rule-strong text-sm text-pencil [&>th]:py-1 [&>th]:font-normal">
          <th className="text-left">Figure</th>
          <th>On the statement</th>
          <th className="hidden pl-4 @2xl:table-cell">In the books</th>
          <th className="pl-4">Difference</th>
        </tr>
      </thead>
      <tbody>
        {ROWS.filter((row) => hasEscrow || !row.isEscrow).map(({ item, name }) => (
          <FigureRow
            key={item}
            name={name}
            value={figures[item]}
            problem={problemOf(read, item)}
            compared={shown?.compared.find((comparison) => comparison.item === item)}
            currency={currency}
            onChange={(value) => onChange({ ...figures, [item]: value })}
          />
        ))}
      </tbody>
    </table>
  );
}
