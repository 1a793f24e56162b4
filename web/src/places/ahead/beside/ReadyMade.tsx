import { addMonths, startOfMonth } from "date-fns";
import { type FormEvent, useState } from "react";
import { api, Refused, server } from "@/shared/api/client";
import { useFlows, useHousehold } from "@/shared/api/hooks";
import { civil, iso } from "@/shared/format";
import { Button } from "@/shared/kit/Button";
import { ChooseOne } from "@/shared/kit/fields/Choice";
import { Field } from "@/shared/kit/fields/Field";
import { Select } from "@/shared/kit/fields/Select";
import { DayField } from "@/shared/kit/fields/TypedFields";
import { useWhatIf } from "@/shared/whatIf";

type Kind = "group_changed" | "income_lost" | "bill_early" | "own";

const KINDS: { value: Kind; label: string }[] = [
  { value: "group_changed", label: "Prices rise or fall" },
  { value: "income_lost", label: "An income stops for a while" },
  { value: "bill_early", label: "A bill comes early" },
  { value: "own", label: "Something else" },
];

/** A new what-if from two or three figures; or an empty one, into which edits then go. */
export function ReadyMade({ isFirst }: { isFirst: boolean }) {
  const [kind, setKind] = useState<Kind>("group_changed");
  return (
    <section aria-label="A new what-if" className="mt-6">
      <h2 className="mb-1 text-lg">What if…</h2>
      {isFirst && (
        <p className="mb-2 max-w-prose text-pencil">
          Try something without touching the plan: every place then shows its figures with it, in copper, until you
          adopt it, leave it or throw it away.
        </p>
      )}
      <ChooseOne label="What" value={kind} options={KINDS} onChange={(next) => setKind(next as Kind)} />
      <Form key={kind} kind={kind} />
    </section>
  );
}

function Form({ kind }: { kind: Kind }) {
  const today = useHousehold().data?.today ?? "";
  const { begin } = useWhatIf();
  const monthAhead = today ? iso(startOfMonth(addMonths(civil(today), 1))) : "";
  const [given, setGiven] = useState<Given>({
    group: "",
    percent: "",
    flow: "",
    from: monthAhead,
    months: "2",
    day: today,
    name: "",
  });
  const [problem, setProblem] = useState<{ field: string; text: string } | null>(null);
  const set = (part: Partial<Given>) => setGiven({ ...given, ...part });
  const at = (field: string) => (problem?.field === field ? problem.text : undefined);
  const onSubmit = async (event: FormEvent) => {
    event.preventDefault();
    setProblem(null);
    if (kind === "own") {
      if (given.name.trim()) void begin(given.name.trim(), []);
      else setProblem({ field: "name", text: "Give the what-if a name." });
      return;
    }
    try {
      const made = await api.post("/api/ready-made", { body: bodyOf(kind, given) });
      await begin(made.name, made.changes);
    } catch (error) {
      const refusal = error instanceof Refused ? error.details[0] : undefined;
      setProblem({ field: String(refusal?.loc.at(-1) ?? ""), text: (error as Error).message });
    }
  };
  const fields = ["group", "percent", "flow", "from", "months", "day", "name"];
  return (
    <form onSubmit={onSubmit} noValidate className="mt-3 flex flex-wrap items-start gap-3">
      <GivenFields {...{ kind, given, at, set }} />
      <Button type="submit" look="main" className="mt-[1.6rem]">
        Look at it
      </Button>
      {problem && !fields.includes(problem.field) && (
        <p role="alert" className="w-full text-rust">
          {problem.text}
        </p>
      )}
    </form>
  );
}

function useGroups(): string[] {
  return server.useQuery("get", "/api/ready-made").data?.groups ?? [];
}

interface Given {
  group: string;
  name: string;
  percent: string;
  flow: string;
  from: string;
  months: string;
  day: string;
}

/** What is asked, as it was typed: what cannot be read is refused at its field. */
function bodyOf(kind: Exclude<Kind, "own">, given: Given) {
  const { group, flow, from, day } = given;
  if (kind === "group_changed")
    return { kind, group, percent: given.percent.trim().replace(",", ".").replace("−", "-"), from };
  if (kind === "income_lost") return { kind, flow, from, months: Number(given.months) };
  return { kind, flow, day };
}

interface FlowFieldProps {
  label: string;
  choices: { value: string; label: string }[];
  value: string;
  problem: string | undefined;
  onChange: (value: string) => void;
}

function FlowField({ label, choices, value, problem, onChange }: FlowFieldProps) {
  return (
    <Field label={label} problem={problem} className="w-72">
      {(ids) => <Select {...ids} value={value} placeholder="Choose one" onChange={onChange} options={choices} />}
    </Field>
  );
}

interface TextProps {
  label: string;
  value: string;
  onChange: (value: string) => void;
  problem?: string | undefined;
  hint?: string;
  isWide?: boolean;
}

function Text({ label, value, onChange, problem, hint, isWide = false }: TextProps) {
  return (
    <Field label={label} problem={problem} hint={hint} className={isWide ? "w-72" : "w-32"}>
      {(ids) => (
        <input
          {...ids}
          inputMode={isWide ? "text" : "decimal"}
          autoComplete="off"
          value={value}
          onChange={(event) => onChange(event.target.value)}
          className={`field ${isWide ? "" : "text-right"}`}
        />
      )}
    </Field>
  );
}

interface GivenProps {
  kind: Kind;
  given: Given;
  at: (field: string) => string | undefined;
  set: (part: Partial<Given>) => void;
}

/** What each kind of what-if has to be told. */
function GivenFields({ kind, given, at, set }: GivenProps) {
  const today = useHousehold().data?.today ?? "";
  const flows = useFlows().data?.flows ?? [];
  const groups = useGroups();
  const field = (name: keyof Given) => ({
    value: given[name],
    problem: at(name),
    onChange: (value: string) => set({ [name]: value }),
  });
  const choices = flows
    .filter(({ flow }) => flow.kind === (kind === "income_lost" ? "income" : "bill"))
    .map(({ flow }) => ({ value: flow.id, label: flow.name }));
  return (
    <>
      {" "}
      {kind === "group_changed" && (
        <>
          <Field label="Everything in" problem={at("group")} className="w-52">
            {(ids) => (
              <Select
                {...ids}
                value={given.group}
                placeholder="Choose a group"
                onChange={(group) => set({ group })}
                options={groups.map((group) => ({ value: group, label: group }))}
              />
            )}
          </Field>
          <Text label="by per cent" hint="-5 for less" {...field("percent")} />
          <DayField label="from" {...field("from")} min={today} />
        </>
      )}
      {kind === "income_lost" && (
        <>
          <FlowField label="Income" choices={choices} {...field("flow")} />
          <DayField label="from" {...field("from")} min={today} />
          <Text label="for months" {...field("months")} />
        </>
      )}
      {kind === "bill_early" && (
        <>
          <FlowField label="Bill" choices={choices} {...field("flow")} />
          <DayField label="already on" {...field("day")} min={today} />
        </>
      )}
      {kind === "own" && <Text label="Its name" {...field("name")} isWide />}
    </>
  );
}
