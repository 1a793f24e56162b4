import type { ChangeRequest, Schemas } from "@/shared/api/client";
import { useAccounts, useFlows } from "@/shared/api/hooks";
import { dayText, digits, rateText, readAmount, sentDecimal } from "@/shared/format";
import { Field } from "@/shared/kit/fields/Field";
import { madeBy } from "@/shared/made";
import { Slip } from "@/shared/slip/Slip";
import { useSlip } from "@/shared/slip/useSlip";
import { useSlipForm } from "@/shared/slip/useSlipForm";

interface Props {
  id: string | null;
  /** The nominal date, the amount and the day it lands, as the line that was opened shows them. */
  start: string;
}

/** Change one occurrence just this once: its amount, its day, or leave it out. */
export function OnceSlip({ id, start }: Props) {
  const data = useFlows().data;
  const accounts = useAccounts().data?.accounts ?? [];
  const row: Row | undefined = data?.flows.find(({ flow }) => flow.id === id) ?? madeRow(id, accounts);
  const [nominal = "", amount = "", lands = ""] = start.split("~");
  if (!data) return null;
  if (!row || !nominal)
    return (
      <Slip title="Not here" saveName="Save" isSaving={false} onSave={() => {}}>
        <p>This is not in the plan any more.</p>
      </Slip>
    );
  return <Editor row={row} nominal={nominal} amount={Number(amount)} lands={lands} today={data.today} />;
}

type Row = Pick<Schemas["FlowRow"], "currency" | "hourly_now"> & {
  flow: Pick<Schemas["Flow"], "id" | "name" | "changes">;
  isMade?: boolean;
};

/** What an account makes of itself has no amount of its own, but for each date one. */
function madeRow(id: string | null, accounts: Schemas["AccountRow"][]): Row | undefined {
  const made = madeBy(id, accounts);
  if (!made || id === null) return undefined;
  const flow = { id, name: made.name, changes: [] };
  return { flow, currency: made.account.currency ?? "USD", hourly_now: null, isMade: true };
}

interface EditorProps {
  row: Row;
  nominal: string;
  amount: number;
  lands: string;
  today: string;
}

function Editor({ row, nominal, amount, lands, today }: EditorProps) {
  const { flow, currency } = row;
  const oneOff = flow.changes?.find((change) => change.nominal === nominal);
  const initial = {
    amount: digits(amount, currency),
    hours: rateText(oneOff?.hours),
    date: oneOff?.moved_to ?? lands,
    left_out: oneOff?.left_out ?? false,
  };
  const { form, values, isDirty, touched } = useSlipForm(initial);
  const read = readAmount(values.amount, currency);
  // Only what was touched is said; the app knows what the rest is.
  const once = (value: object | null): ChangeRequest[] => [
    { op: "once", kind: "flow", id: flow.id, nominal, value: value as Record<string, unknown> | null },
  ];
  const said = once({
    ...(touched.amount && "amount" in read && { amount: read.amount }),
    ...(touched.hours && { hours: values.hours.trim() ? sentDecimal(values.hours) : null }),
    ...(touched.date && { moved_to: values.date }),
    ...(touched.left_out && { left_out: values.left_out }),
  });
  const isReady = isDirty && "amount" in read && values.date !== "";
  const slip = useSlip(isReady ? said : null, () => true);
  return (
    <Slip
      title={`${flow.name}, ${dayText(nominal, today)}`}
      saveName="Just this once"
      isSaving={slip.isSaving}
      problem={slip.otherProblem(["amount", "hours", "moved_to", "changes"])}
      onSave={() => isReady && slip.save(said, "Changed just this once")}
      onDelete={oneOff || row.isMade ? () => slip.save(once(null), "As planned again") : undefined}
      deleteName="As planned again"
    >
      {row.hourly_now && (
        <Field
          label="Hours worked"
          hint={`Usually ${rateText(row.hourly_now.hours)}. Empty: as the amount says.`}
          problem={slip.problem("hours")}
        >
          {(ids) => <input {...ids} {...form.register("hours")} inputMode="decimal" className="field text-right" />}
        </Field>
      )}
      <Field
        label={`Amount (${currency})`}
        problem={"problem" in read ? read.problem : (slip.problem("amount") ?? slip.problem("changes"))}
      >
        {(ids) => <input {...ids} {...form.register("amount")} inputMode="decimal" className="field text-right" />}
      </Field>
      <Field label="Day" problem={slip.problem("moved_to")}>
        {(ids) => <input {...ids} type="date" {...form.register("date")} className="field" />}
      </Field>
      <label className="flex min-h-10 items-center gap-2.5">
        <input type="checkbox" {...form.register("left_out")} className="size-4.5 accent-(--ink)" />
        Leave it out this time
      </label>
    </Slip>
  );
}
