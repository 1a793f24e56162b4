import { useNavigate } from "react-router";
import { type Account, type ChangeRequest, Refused, type Schemas, server } from "@/shared/api/client";
import { useAccounts, useHousehold } from "@/shared/api/hooks";
import { firstProblem, problemOf } from "@/shared/fields";
import { plusDays } from "@/shared/format";
import { Field } from "@/shared/kit/fields/Field";
import { Slip } from "@/shared/slip/Slip";
import { useSlip } from "@/shared/slip/useSlip";
import { useSlipForm } from "@/shared/slip/useSlipForm";
import { LoanFields } from "./LoanFields";
import { emptyLoan, formOf, type Loan, type LoanForm, owingOf } from "./loanForm";
import { readLoan } from "./readLoan";

/** Create or change a loan of the household. `start` may hold the terms of one that was tried. */
export function LoanSlip({ id, start }: { id: string | null; start: string }) {
  const household = useHousehold().data;
  const accounts = useAccounts().data?.accounts;
  if (!household || !accounts) return null;
  const list = accounts.filter((row) => id !== null || !row.is_closed).map((row) => row.account);
  const account = list.find((candidate) => candidate.id === id);
  const initial = account?.loan ? formOf(account, account.loan) : begun(start, household);
  const { today } = household;
  const { currency } = household.household;
  return <Editor account={account ?? null} initial={initial} accounts={list} currency={currency} today={today} />;
}

function begun(start: string, household: Schemas["HouseholdAnswer"]): LoanForm {
  const first = household.beginnings.account ?? "";
  if (!start) return { ...emptyLoan(household.today, household.beginnings.first_payment, first), disbursed: "" };
  const loan = JSON.parse(decodeURIComponent(start)) as Loan;
  const opening = { date: loan.disbursed ?? household.today, balance: -loan.principal };
  const account = {
    id: "",
    name: "",
    kind: "loan" as const,
    currency: household.household.currency,
    opening,
    floor: 0,
    spendable: true,
  };
  return { ...formOf(account, loan), from_account: first };
}

interface EditorProps {
  account: Account | null;
  initial: LoanForm;
  accounts: Account[];
  currency: string;
  today: string;
}

/** What is owed of a loan on the morning of a day if all was paid as agreed until then. */
function useAgreed(loan: Loan | null, today: string) {
  return server.useQuery(
    "post",
    "/api/tools/payoff-amount",
    { body: { loan: loan as Loan, on: plusDays(today, -1) } },
    { enabled: loan !== null, retry: false },
  );
}

function Editor({ account, initial, accounts, currency, today }: EditorProps) {
  const { form, values, newId, isDirty, touched, isTouched } = useSlipForm(initial);
  const navigate = useNavigate();
  const money = account?.currency ?? currency;
  const read = readLoan(values, money);
  const owing = owingOf(values, today);
  const asAgreed = useAgreed("value" in read && owing === "agreed" ? read.value.loan : null, today);
  const agreed = asAgreed.data?.balance;
  const change: ChangeRequest | null =
    "value" in read && (owing !== "agreed" || agreed !== undefined)
      ? {
          op: "borrowed",
          kind: "account",
          id: account?.id ?? newId,
          value: {
            name: values.name.trim(),
            currency: money,
            loan: read.value.loan,
            owed: owing === "agreed" ? agreed : read.value.owed,
            new_escrow: read.value.newEscrow,
            owed_on: owing === "agreed" ? today : read.value.owed !== null ? values.owed_on : null,
          },
        }
      : null;
  const isReady = account ? isDirty : values.name.trim() !== "";
  const slip = useSlip(change && isReady ? [change] : null, (field) => field !== "name" || isTouched(field));
  const refused = asAgreed.error instanceof Refused ? asAgreed.error.details[0] : undefined;
  const refusedAt = SHOWN_BESIDE.find((field) => field === refused?.loc.at(-1));
  const problem = (field: string) => {
    if (field === refusedAt) return refused?.msg;
    if (field === "owing") return refusedAt ? undefined : asAgreed.error?.message;
    const unread = problemOf(read, field);
    if (unread) {
      const isBegun = Object.keys(touched).some((name) => name.startsWith(field.slice(0, 4)));
      return isBegun || slip.wasTried ? unread : undefined;
    }
    // What is owed stands for what is borrowed, or opens the account.
    const isOwed = field === "owed" && (slip.problem("opening.balance") ?? slip.problem("loan.principal"));
    return isOwed || (slip.problem(field) ?? slip.problem(`loan.${field}`));
  };
  const onSave = () => {
    slip.trySaving();
    if (change) slip.save([change], "Saved");
  };
  const onDelete = account
    ? () => {
        slip.save([{ op: "remove", kind: "account", id: account.id }], "Deleted");
        navigate("/debts");
      }
    : undefined;
  return (
    <Slip
      title={account?.name ?? "New loan"}
      saveName={account ? "Save" : "Add the loan"}
      isSaving={slip.isSaving}
      problem={(slip.wasTried ? firstProblem(read) : undefined) ?? slip.otherProblem(SHOWN)}
      onSave={onSave}
      onDelete={onDelete}
    >
      <Field label="Name" problem={slip.problem("name")}>
        {(ids) => <input {...ids} {...form.register("name")} autoComplete="off" className="field" />}
      </Field>
      <LoanFields
        form={form}
        values={values}
        currency={money}
        accounts={accounts}
        problem={problem}
        today={today}
        agreed={agreed}
      />
    </Slip>
  );
}

// What the terms are refused for stands at these fields, also while it is asked what is owed as agreed.
const SHOWN_BESIDE = ["principal", "annual_rate", "payments", "payment", "disbursed", "first_payment"];
const SHOWN = ["name", "opening.balance", "opening.date", "loan"];
