import { useQuery, useQueryClient } from "@tanstack/react-query";
import { type Schemas, server } from "@/shared/api/client";
import { useHousehold } from "@/shared/api/hooks";
import { dayText } from "@/shared/format";
import { ChooseOne } from "@/shared/kit/fields/Choice";
import { FieldGroup } from "@/shared/kit/fields/Field";
import type { EntryForm, ReadEntry } from "./entryForm";

type Payment = Schemas["Occurrence"];

/**
 * The payment that money moved to a loan may be, as the app knows it; null where there is no question.
 *
 * `ask` waits for it: whoever saves before it is known is asked all the same.
 */
export function usePaymentMeant(form: EntryForm, read: ReadEntry, accounts: Schemas["Account"][]) {
  const client = useQueryClient();
  const isToLoan = form.way === "moved" && accounts.some(({ id, loan }) => id === form.to_account && loan);
  const amount = "value" in read ? read.value.amount : null;
  const isOne = isToLoan && amount !== null && form.date !== "";
  const question = server.queryOptions("get", "/api/debts/{id}/payment-meant", {
    params: { path: { id: form.to_account }, query: { amount: amount as number, date: form.date } },
  });
  const { data } = useQuery({ ...question, enabled: isOne });
  return {
    payment: (isOne && data?.payment) || null,
    ask: async (): Promise<Payment | null> =>
      isOne
        ? client.ensureQueryData(question).then(
            (oneAnswer) => oneAnswer.payment,
            () => null,
          )
        : null,
  };
}

interface Props {
  payment: Payment;
  value: string;
  problem: string | undefined;
  onChange: (pays: string) => void;
}

/** Money moved to a loan that comes to just a payment: is it that, or an extra? */
export function PaymentOrExtra({ payment, value, problem, onChange }: Props) {
  const today = useHousehold().data?.today;
  return (
    <FieldGroup label="This is" problem={problem}>
      <ChooseOne
        label="This is"
        value={value}
        onChange={onChange}
        options={[
          { value: payment.nominal, label: `The payment due ${dayText(payment.lands, today)}` },
          { value: "extra", label: "An extra, all of it off what is owed" },
        ]}
      />
    </FieldGroup>
  );
}
