import type { ChangeRequest } from "@/shared/api/client";
import { useHousehold } from "@/shared/api/hooks";
import { rateText, readRate } from "@/shared/format";
import { Field } from "@/shared/kit/fields/Field";
import { Slip } from "@/shared/slip/Slip";
import { useSlip } from "@/shared/slip/useSlip";
import { useSlipForm } from "@/shared/slip/useSlipForm";
import { useRates } from "./useRates";

interface Props {
  id: string | null;
  /** Day, currency and currency that a new one begins with, with ~ between them. */
  start: string;
}

/** The exchange rate of a pair of currencies from a day on. */
export function RateSlip({ id, start }: Props) {
  const household = useHousehold().data;
  const rates = useRates().data;
  if (!household || !rates) return null;
  const saved = rates.rates.find((rate) => rate.id === id);
  const [day = "", from = "", to = ""] = start.split("~");
  const missing = rates.pairs.find((pair) => pair.rate === null) ?? rates.pairs[0];
  const initial = saved
    ? { date: saved.date, from: saved.from, to: saved.to, rate: rateText(saved.rate) }
    : {
        date: day || household.today,
        from: from || missing?.source || "",
        to: to || rates.currency,
        rate: "",
      };
  return <Editor id={saved ? id : null} initial={initial} codes={Object.keys(household.decimals).sort()} />;
}

interface EditorProps {
  id: string | null;
  initial: { date: string; from: string; to: string; rate: string };
  codes: string[];
}

function Editor({ id, initial, codes }: EditorProps) {
  const { form, values, isDirty } = useSlipForm(initial);
  const read = readRate(values.rate);
  const value = { date: values.date, from: values.from.toUpperCase(), to: values.to.toUpperCase() };
  const changes: ChangeRequest[] | null =
    "rate" in read
      ? [
          {
            op: id ? "update" : "add",
            kind: "rate",
            id: id ?? [value.date, value.from, value.to].join(":"),
            value: { ...value, rate: read.rate },
          },
        ]
      : null;
  const slip = useSlip(isDirty ? changes : null, () => true);
  const problem = slip.wasTried && "problem" in read ? read.problem : slip.problem("rate");
  const onSave = () => {
    slip.trySaving();
    if (changes) slip.save(changes, "Saved");
  };
  const code = (name: "from" | "to", label: string) => (
    <Field label={label} problem={slip.problem(name)}>
      {(ids) => (
        <input
          {...ids}
          {...form.register(name)}
          list="currencies"
          maxLength={3}
          autoComplete="off"
          className="field uppercase"
        />
      )}
    </Field>
  );
  return (
    <Slip
      title={id ? `${initial.from} in ${initial.to}` : "New exchange rate"}
      saveName="Save"
      isSaving={slip.isSaving}
      isNew={id === null}
      problem={slip.otherProblem(["date", "from", "to", "rate"])}
      onSave={onSave}
      onDelete={id ? () => slip.save([{ op: "remove", kind: "rate", id }], "Deleted") : undefined}
    >
      <datalist id="currencies">
        {codes.map((oneCode) => (
          <option key={oneCode} value={oneCode} />
        ))}
      </datalist>
      <div className="grid grid-cols-2 gap-3">
        {code("from", "One unit of")}
        {code("to", "In")}
        <Field label="Is worth" problem={problem}>
          {(ids) => (
            <input
              {...ids}
              {...form.register("rate")}
              inputMode="decimal"
              autoComplete="off"
              className="field text-right"
            />
          )}
        </Field>
        <Field label="From day" problem={slip.problem("date")}>
          {(ids) => <input {...ids} type="date" {...form.register("date")} className="field" />}
        </Field>
      </div>
    </Slip>
  );
}
