import { type FormEvent, useState } from "react";
import type { Account, ChangeRequest } from "@/shared/api/client";
import { useSave } from "@/shared/api/hooks";
import { readAmount } from "@/shared/format";
import { Button } from "@/shared/kit/Button";
import { AmountField, DayField } from "@/shared/kit/fields/TypedFields";
import { useToast } from "@/shared/kit/Toast";
import type { Escrow } from "./EscrowPage";

type Act = "deposit" | "shortage" | "refund";

const NAMES: Record<Act, string> = {
  deposit: "The deposit changes",
  shortage: "Pay a shortage",
  refund: "A refund arrived",
};

/** What happens to escrow beside the payments: another deposit from a day on, a shortage paid, a surplus refunded. */
export function EscrowActs({ loan, data }: { loan: Account; data: Escrow }) {
  const [act, setAct] = useState<Act | null>(null);
  return (
    <>
      <p className="mt-2 flex flex-wrap gap-2">
        {(Object.keys(NAMES) as Act[]).map((oneAct) => (
          <Button key={oneAct} aria-expanded={act === oneAct} onClick={() => setAct(act === oneAct ? null : oneAct)}>
            {NAMES[oneAct]}
          </Button>
        ))}
      </p>
      {act && <ActForm key={act} act={act} loan={loan} data={data} onClose={() => setAct(null)} />}
    </>
  );
}

function ActForm({ act, loan, data, onClose }: { act: Act; loan: Account; data: Escrow; onClose: () => void }) {
  const save = useSave();
  const toast = useToast();
  const [date, setDate] = useState(data.today);
  const [amount, setAmount] = useState("");
  const read = readAmount(amount, data.currency);
  const onSubmit = (event: FormEvent) => {
    event.preventDefault();
    if (!("amount" in read)) return;
    save.mutate([change(act, loan, data, date, read.amount)], {
      onSuccess: () => {
        toast("Saved. Undo takes it back.");
        onClose();
      },
    });
  };
  const problem = amount.trim() && "problem" in read ? read.problem : save.error?.message;
  return (
    <form
      aria-label={NAMES[act]}
      onSubmit={onSubmit}
      onKeyDown={(event) => event.key === "Escape" && onClose()}
      className="mt-2 flex flex-wrap items-end gap-3 border-l-2 border-copper pl-3"
    >
      <AmountField
        isFirst
        label={act === "deposit" ? "With each payment" : "Amount"}
        value={amount}
        onChange={setAmount}
        problem={problem}
        className="w-44"
      />
      <DayField label={act === "deposit" ? "From" : "On"} value={date} onChange={setDate} />
      <Button look="main" type="submit" disabled={!("amount" in read) || !date || save.isPending}>
        Save
      </Button>
      <Button onClick={onClose}>Cancel</Button>
    </form>
  );
}

function change(act: Act, loan: Account, data: Escrow, date: string, amount: number): ChangeRequest {
  if (act === "deposit") return { op: "revise", kind: "account", id: loan.id, from: date, value: { escrow: amount } };
  const pays = loan.loan?.from_account ?? "";
  const [account, to_account] = act === "shortage" ? [pays, data.id] : [data.id, pays];
  const payee = act === "shortage" ? "Escrow shortage" : "Escrow refund";
  return { op: "moved", kind: "entry", id: crypto.randomUUID(), value: { date, account, to_account, amount, payee } };
}
