import { type ReactNode, useState } from "react";
import type { Schemas } from "@/shared/api/client";
import { useAccounts } from "@/shared/api/hooks";
import { dayText, money, shareText } from "@/shared/format";
import { Button } from "@/shared/kit/Button";
import { useView } from "@/shared/view";

type Answer = Schemas["ReviewAnswer"];

const AT_FIRST = 10;

/** With whom the money was spent, the most first. */
export function Payees({ data }: { data: Answer }) {
  const spent = data.payees.filter((onePayee) => onePayee.spent !== 0);
  return (
    <SumList title="With whom" all={`All ${spent.length} payees`}>
      {spent.map((sums) => (
        <SumLine key={sums.payee} note={times(sums.entries)} sum={money(sums.spent, data.currency)}>
          {sums.payee || "No payee"}
        </SumLine>
      ))}
    </SumList>
  );
}

/** From which accounts, the most first. */
export function ByAccount({ data }: { data: Answer }) {
  const names = new Map(useAccounts().data?.accounts.map(({ account }) => [account.id, account.name]));
  const spent = data.by_account.filter((sums) => sums.spent !== 0);
  return (
    <SumList title="From where" all={`All ${spent.length} accounts`}>
      {spent.map((sums) => (
        <SumLine key={sums.account} note={times(sums.entries)} sum={money(sums.spent, data.currency)}>
          {names.get(sums.account) ?? sums.account}
        </SumLine>
      ))}
    </SumList>
  );
}

/** The ten largest, each with its share of all that was spent. */
export function Largest({ data }: { data: Answer }) {
  const { openSlip } = useView();
  return (
    <SumList title="The largest" all="All of them">
      {data.largest.map((sums) => (
        <SumLine
          key={sums.entry}
          note={`${dayText(sums.date, data.today)}${sums.share === null ? "" : `, ${shareText(sums.share)}`}`}
          sum={money(sums.amount, data.currency)}
        >
          <button type="button" className="text-left hover:underline" onClick={() => openSlip("entry", sums.entry)}>
            {sums.payee}
          </button>
        </SumLine>
      ))}
    </SumList>
  );
}

const times = (entries: number) => (entries === 1 ? "once" : `${entries} entries`);

function SumList({ title, all, children }: { title: string; all: string; children: ReactNode[] }) {
  const [isWhole, setIsWhole] = useState(false);
  if (children.length === 0) return null;
  return (
    <section aria-label={title} className="mt-6">
      <h2 className="mb-1 text-lg">{title}</h2>
      <ul className="max-w-2xl">{isWhole ? children : children.slice(0, AT_FIRST)}</ul>
      {children.length > AT_FIRST && !isWhole && (
        <Button look="link" onClick={() => setIsWhole(true)}>
          {all}
        </Button>
      )}
    </section>
  );
}

function SumLine({ note, sum, children }: { note: string; sum: string; children: ReactNode }) {
  return (
    <li className="flex justify-between gap-3 border-b border-rule py-1">
      <span className="min-w-0">
        {children}
        <span className="ml-2 text-sm text-pencil">{note}</span>
      </span>
      <span className="whitespace-nowrap">{sum}</span>
    </li>
  );
}
