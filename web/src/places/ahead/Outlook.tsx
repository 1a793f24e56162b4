import { addDays, addYears } from "date-fns";
import type { Schemas } from "@/shared/api/client";
import { useAccounts, useHousehold } from "@/shared/api/hooks";
import { civil, dayText, inDays, iso, money } from "@/shared/format";
import { useChance } from "@/shared/hooks/useChance";
import { type Foldout, Foldouts } from "@/shared/kit/Foldouts";
import { Term } from "@/shared/kit/Term";
import { useView } from "@/shared/view";
import { currencyOf } from "./currencyOf";
import { LeftLine } from "./LeftLine";
import { Afford } from "./short/Afford";
import { HowSure } from "./short/HowSure";
import { Paydays } from "./short/Paydays";
import { Remedies } from "./short/Remedies";
import { ShallowList } from "./short/Shallows";

type AheadAnswer = Schemas["AheadAnswer"];
type AccountForecast = AheadAnswer["accounts"][number];

/** In sentences: until the next payday, and where money runs short and what would keep the floor. */
export function Outlook({ ahead, until }: { ahead: AheadAnswer; until: string }) {
  const names = useNames();
  const debts = new Set(useAccounts().data?.accounts.flatMap(({ account, is_debt }) => (is_debt ? [account.id] : [])));
  const { period } = useView();
  // Days that have passed are told in their figures; what is said here is of today and later.
  const isPast = period !== null && period.until < ahead.today;
  return (
    <section aria-label="Outlook" className="mb-4 flex flex-col gap-1">
      <Today ahead={ahead} names={names} />
      {ahead.paydays.slice(0, 1).map((payday) => (
        <p key={payday.account} className="font-display text-xl">
          {payday.free >= 0 ? (
            <>
              {money(payday.free, currencyOf(ahead, payday.account))} free until {payday.name} on{" "}
              {dayText(payday.date, ahead.today)}
              <span className="font-sans text-base text-pencil"> {inDays(payday.days_until)}</span>
              <IfItGoesBadly payday={payday} today={ahead.today} currency={currencyOf(ahead, payday.account)} />
            </>
          ) : (
            <span className="text-rust">
              {money(-payday.free, currencyOf(ahead, payday.account))} short before {payday.name} on{" "}
              {dayText(payday.date, ahead.today)}
            </span>
          )}
        </p>
      ))}
      {!isPast && <LeftLine />}
      {ahead.accounts.map((account) =>
        debts.has(account.id) ? (
          <Owed key={account.id} account={account} name={names.get(account.id) ?? ""} />
        ) : (
          !isPast && (
            <Shallows
              key={account.id}
              account={account}
              topUp={ahead.top_ups_in_all[account.id] ?? 0}
              name={names.get(account.id) ?? ""}
              today={ahead.today}
              until={until}
            />
          )
        ),
      )}
      <Foldouts items={foldoutsOf(ahead, names, debts, until)} />
    </section>
  );
}

interface BadlyProps {
  payday: AheadAnswer["paydays"][number];
  today: string;
  currency: string;
}

/** What is free until the payday if it goes badly, where that is less: nine times in ten it is more. */
function IfItGoesBadly({ payday, today, currency }: BadlyProps) {
  const before = iso(addDays(civil(payday.date), -1));
  const chance = useChance([payday.account], today, before);
  // Its place is there before it is counted: what is below stays where it is.
  if (!chance)
    return <span className="invisible font-sans text-base">, {money(payday.free, currency)} if it goes badly</span>;
  if (!chance.is_known || !chance.goes_badly || chance.goes_badly.headroom >= payday.free) return null;
  const { headroom } = chance.goes_badly;
  return (
    <span className="font-sans text-base" data-testid="if it goes badly">
      , {headroom < 0 ? `${money(-headroom, chance.currency)} short` : money(headroom, chance.currency)} if it goes
      badly
    </span>
  );
}

/** What is there today, before anything that is expected. */
function Today({ ahead, names }: { ahead: AheadAnswer; names: Map<string, string> }) {
  const household = useHousehold().data?.household.currency ?? "USD";
  return (
    <p className="text-pencil" data-testid="today">
      Today{" "}
      {ahead.accounts.map((account) => (
        <span key={account.id} className="mr-3">
          <span className="whitespace-nowrap text-ink">{money(account.today_balance, account.currency)}</span> on{" "}
          {names.get(account.id)}
        </span>
      ))}
      <span className="whitespace-nowrap">
        <span className="text-ink">{money(ahead.spendable_today, household)}</span> can be spent in all
      </span>
    </p>
  );
}

function useNames(): Map<string, string> {
  return new Map(useAccounts().data?.accounts.map(({ account }) => [account.id, account.name]));
}

interface ShallowsProps {
  account: AccountForecast;
  topUp: number;
  name: string;
  today: string;
  until: string;
}

/** A debt has no floor: what is owed on it, and what a card may still be used for. */
function Owed({ account, name }: { account: AccountForecast; name: string }) {
  const available = account.available?.[0]?.[1];
  return (
    <p className="text-pencil">
      {name}: {money(Math.max(0, -account.today_balance), account.currency)} owed
      {available !== undefined && `, ${money(available as number, account.currency)} can still be spent on it`}.
    </p>
  );
}

/** Each stretch below an account's floor, and the least money that would keep it. */
function Shallows({ account, topUp, name, today, until }: ShallowsProps) {
  const below = account.stretches.filter((stretch) => stretch.below === "floor");
  const nearly = account.stretches.filter((stretch) => stretch.below === "cushion");
  if (below.length === 0)
    return (
      <p className="text-pencil">
        {name} stays above its <Term of="Floor">floor</Term>
        {` until ${dayText(until, today)}`}
        {nearly.length > 0 && (
          <>
            , and dips into its <Term of="Cushion">cushion</Term> {times(nearly.length)}
          </>
        )}
        .
      </p>
    );
  const first = account.top_ups[0];
  return (
    <>
      {below.slice(0, 3).map((stretch, place) => (
        <p key={stretch.from}>
          <strong className="text-rust">
            {name} falls {money(stretch.short_by, account.currency)} below its{" "}
            {place === 0 ? <Term of="Floor">floor</Term> : "floor"}
          </strong>{" "}
          {stretch.from === stretch.to
            ? `on ${dayText(stretch.from, today)}`
            : `from ${dayText(stretch.from, today)} to ${dayText(stretch.to, today)}, deepest on ${dayText(stretch.deepest, today)}`}
          .
        </p>
      ))}
      {first && (
        <p className="text-pencil">
          {account.top_ups.length === 1
            ? `${money(topUp, account.currency)} put in by ${dayText(first.date, today)} would keep the floor.`
            : `${money(topUp, account.currency)} in all would keep the floor, the first ${money(first.amount, account.currency)} by ${dayText(first.date, today)}.`}
        </p>
      )}
    </>
  );
}

/** What may be asked further: of each account's low stretches, then of the first account. */
function foldoutsOf(ahead: AheadAnswer, names: Map<string, string>, debts: Set<string>, until: string): Foldout[] {
  const { today, accounts } = ahead;
  const [first] = accounts;
  const horizon = aYearOn(today, until);
  const of = (id: string) => (accounts.length > 1 ? ` (${names.get(id) ?? id})` : "");
  const low = accounts.flatMap(({ id, currency, stretches }): Foldout[] => {
    const ofAccount = ahead.shallows.filter((shallow) => shallow.account === id);
    const below = stretches.find((stretch) => stretch.below === "floor");
    const several = ofAccount.length === 2 ? "Both low stretches" : `All ${ofAccount.length} low stretches`;
    const causes = ofAccount.length === 1 ? "What takes it down" : several;
    return [
      ...(below
        ? [
            {
              id: `remedies ${id}`,
              label: `What could be done${of(id)}`,
              content: () => (
                <Remedies account={id} from={below.from} until={horizon} currency={currency} today={today} />
              ),
            },
          ]
        : []),
      ...(ofAccount.length > 0
        ? [
            {
              id: `causes ${id}`,
              label: `${causes}${of(id)}`,
              content: () => <ShallowList shallows={ofAccount} currency={currency} today={today} until={until} />,
            },
          ]
        : []),
    ];
  });
  if (!first) return low;
  return [
    ...low,
    ...accounts
      .filter(({ id }) => !debts.has(id))
      .map(({ id }) => ({
        id: `sure ${id}`,
        label: `How sure is it?${of(id)}`,
        content: () => <HowSure account={id} today={today} until={until} />,
      })),
    { id: "paydays", label: "Payday to payday", content: () => <Paydays account={first.id} /> },
    {
      id: "afford",
      label: "Can we afford it?",
      content: () => <Afford account={first.id} currency={first.currency} today={today} until={horizon} />,
    },
  ];
}

/** A year from today, or the later end that is looked at: what a remedy costs shows only in time. */
const aYearOn = (today: string, until: string): string => {
  const year = iso(addYears(civil(today), 1));
  return year > until ? year : until;
};

const times = (count: number) => (count === 1 ? "once" : count === 2 ? "twice" : `${count} times`);
