import { useState } from "react";
import { type Schemas, server } from "@/shared/api/client";
import { useSave } from "@/shared/api/hooks";
import { dayText, money, monthOf } from "@/shared/format";
import { Button } from "@/shared/kit/Button";
import { useToast } from "@/shared/kit/Toast";
import { useWhatIf } from "@/shared/whatIf";

type Remedy = Schemas["RemedyModel"];

interface Props {
  account: string;
  from: string;
  until: string;
  currency: string;
  today: string;
}

const AT_FIRST = 4;

/** What would keep the floor: tried as a what-if, or done. */
export function Remedies({ account, from, until, currency, today }: Props) {
  const [isLong, setLong] = useState(false);
  const { data, error } = server.useQuery("get", "/api/remedies", { params: { query: { account, from, until } } });
  if (error) return <p role="alert">{error.message}</p>;
  if (!data) return <p className="text-pencil">Looking for what would help…</p>;
  if (data.remedies.length === 0)
    return (
      <p className="border-l-2 border-rust pl-3">
        Nothing that is planned can give way enough. Say in a bill’s slip how late it may be paid or whether it may be
        left out, or plan for more money by then.
      </p>
    );
  const shown = isLong ? data.remedies : data.remedies.slice(0, AT_FIRST);
  return (
    <section aria-label="What could be done" className="max-w-4xl border-l-2 border-copper pl-3">
      <ul>
        {shown.map((remedy) => (
          <RemedyLine key={remedy.title} remedy={remedy} currency={currency} today={today} />
        ))}
      </ul>
      {data.remedies.length > AT_FIRST && (
        <Button look="link" aria-expanded={isLong} onClick={() => setLong(!isLong)}>
          {isLong ? "Fewer" : `${data.remedies.length - AT_FIRST} more ways`}
        </Button>
      )}
      <TopUps data={data} currency={currency} today={today} />
    </section>
  );
}

/** The least money that keeps the floor, as late as can be: day by day, and by month. */
function TopUps({ data, currency, today }: { data: Schemas["RemediesAnswer"]; currency: string; today: string }) {
  if (data.top_ups.length < 2) return null;
  return (
    <details>
      <summary className="min-h-9 cursor-pointer py-1 text-copper">The least to put in, and when</summary>
      <div className="flex flex-wrap gap-x-12">
        <ul>
          {data.top_ups.map((topUp) => (
            <li key={topUp.date}>
              {money(topUp.amount, currency)} by {dayText(topUp.date, today)}
            </li>
          ))}
        </ul>
        <ul className="text-pencil">
          {data.by_month.map((monthAmount) => (
            <li key={monthAmount.month}>
              {monthOf(monthAmount.month)}: {money(monthAmount.amount, currency)}
            </li>
          ))}
        </ul>
      </div>
    </details>
  );
}

function RemedyLine({ remedy, currency, today }: { remedy: Remedy; currency: string; today: string }) {
  const save = useSave();
  const toast = useToast();
  const { begin } = useWhatIf();
  const cost =
    remedy.cost === 0
      ? "costs nothing"
      : remedy.cost > 0
        ? `costs ${money(remedy.cost, currency)}`
        : `saves ${money(-remedy.cost, currency)}`;
  return (
    <li className="flex flex-wrap items-center gap-x-4 gap-y-1 border-b border-rule py-1.5">
      <span className="min-w-64 flex-1">
        {remedy.title}
        <span className="block text-sm text-pencil">
          {cost}; lowest then {money(remedy.lowest.balance, currency)} on {dayText(remedy.lowest.date, today)}
        </span>
      </span>
      <Button className="!min-h-9" onClick={() => begin(remedy.title, remedy.changes)}>
        Try it
      </Button>
      <Button
        className="!min-h-9"
        disabled={save.isPending}
        onClick={() =>
          save.mutate(remedy.changes, {
            onSuccess: () => toast("It is planned. Undo takes it back."),
            onError: (error) => toast(error.message),
          })
        }
      >
        Do it
      </Button>
    </li>
  );
}
