import { type KeyboardEvent, startTransition, useEffect, useRef, useState } from "react";
import { Link } from "react-router";
import type { Schemas } from "@/shared/api/client";
import { useAccounts } from "@/shared/api/hooks";
import { AsCsv } from "@/shared/csv/AsCsv";
import { counted, dayText } from "@/shared/format";
import { Button } from "@/shared/kit/Button";
import { useView } from "@/shared/view";
import { BankInSettle } from "./BankInSettle";
import { DueGroup, type Editing, GROUPS } from "./DueGroup";
import type { DueActions } from "./DueRow";
import { SettledToday } from "./SettledToday";
import { type Due, keyOf, type SettleLine, useDue, useSettleLines } from "./useSettle";
import { useWaitingLines } from "./useWaitingLines";
import { useWalking } from "./useWalking";
import { WaitingLines } from "./WaitingLines";

/** The daily five minutes: what is due, one line each, worked off by keys or buttons. */
export function Settle() {
  const { data } = useDue();
  const settle = useSettleLines();
  const { data: waiting = [], isLoading: isBankAwaited } = useWaitingLines();
  const { openSlip } = useView();
  const list = useRef<HTMLDivElement>(null);
  // The rows are drawn anew only when they change themselves; what they do is looked up when they do it.
  const actions = useRef<DueActions | null>(null);
  const [chosen, setChosen] = useState<string[]>([]);
  const [editing, setEditing] = useState<Editing>(null);
  const shown = useMore(data?.due.length ?? 0);
  const { rowElements, toTakeBack, next } = useWalking(list);
  // What a bank says stands among the rest: nothing moves once it is there.
  if (!data || isBankAwaited) return null;

  const placeOf = (line: Due) => rowElements().findIndex((row) => row.dataset.due === keyOf(line));
  const act = (line: Due, what: SettleLine["do"], place: number) => {
    const several = chosen.includes(keyOf(line)) ? data.due.filter((other) => chosen.includes(keyOf(other))) : [line];
    setEditing(null);
    // The list is not drawn for nothing: the app is asked first.
    setChosen((before) => (before.length > 0 ? [] : before));
    next.current = place;
    settle.mutate(several.map(({ flow, nominal }) => ({ flow, nominal, do: what, part: false })));
  };
  const toggle = (key: string) =>
    setChosen((before) => (before.includes(key) ? before.filter((other) => other !== key) : [...before, key]));
  const movedOn = () => {
    next.current = null;
  };
  const latest: DueActions = {
    choose: (line) => toggle(keyOf(line)),
    edit: (line, what) => setEditing(what && { key: keyOf(line), what }),
    do: (line, what) => act(line, what, placeOf(line)),
    send: (line, changed) => {
      const place = placeOf(line);
      settle.mutate([changed], () => {
        setEditing(null);
        next.current = place;
      });
    },
    open: (line) => openSlip("flow", line.flow),
    keyDown: (event, line) => onKey(event, line, latest),
  };
  actions.current = latest;

  const group = ({ status, title }: (typeof GROUPS)[number]) => (
    <DueGroup
      key={status}
      {...{ status, title, chosen, editing, actions }}
      lines={data.due.slice(0, shown).filter((line) => line.status === status)}
      today={data.today}
      problem={settle.error?.message}
    />
  );
  return (
    <div
      className="mx-auto max-w-6xl px-4 py-4 md:px-6"
      ref={list}
      onKeyDownCapture={movedOn}
      onPointerDownCapture={movedOn}
    >
      <Heading
        data={data}
        chosen={chosen.length}
        onTakeBack={toTakeBack}
        onSettle={() => act(firstOf(data.due, chosen), "settle", 0)}
      />
      <Notices notices={data.notices} today={data.today} />
      {data.due.length + waiting.length === 0 && <NothingDue />}
      {GROUPS.slice(0, 3).map(group)}
      <WaitingLines lines={waiting} today={data.today} />
      {GROUPS.slice(3).map(group)}
      {data.due.length > 0 && <Keys />}
      {shown === data.due.length && <SettledToday settled={data.settled} leftOut={data.left_out} today={data.today} />}
      <BankInSettle />
    </div>
  );
}

const AT_FIRST = 12;

/** How many lines to draw: what is in sight at once, the rest of a long list right after. */
function useMore(count: number): number {
  const [isAll, setAll] = useState(false);
  useEffect(() => {
    if (count === 0 || isAll) return;
    const later = setTimeout(() => startTransition(() => setAll(true)), 60);
    return () => clearTimeout(later);
  }, [count, isAll]);
  return isAll ? count : Math.min(count, AT_FIRST);
}

const firstOf = (due: Due[], chosen: string[]): Due =>
  due.find((line) => chosen.includes(keyOf(line))) ?? (due[0] as Due);

function summary(due: Due[], inAll: number): string {
  if (due.length === 0) return "";
  if (inAll > due.length)
    return `The first ${due.length} of ${counted(inAll)} things to settle; the rest follow as these are done`;
  const late = due.filter((line) => line.status === "past_due").length;
  const all = due.length === 1 ? "1 thing" : `${due.length} things`;
  return late ? `${all} to settle, ${late} past due` : `${all} to settle`;
}

/** What is worth knowing some days ahead; there is nothing to settle. */
function Notices({ notices, today }: { notices: Schemas["NoticeModel"][]; today: string }) {
  return notices.map((notice) => (
    <p key={`${notice.account}${notice.date}`} className="mb-2 border-l-2 border-rust pl-3">
      {notice.text} on {dayText(notice.date, today)}.{" "}
      <Link
        to={
          notice.loan
            ? `/debts/${encodeURIComponent(notice.loan)}/escrow`
            : `/debts/cards/${encodeURIComponent(notice.account)}`
        }
        className="text-copper underline underline-offset-4"
      >
        {notice.loan ? "Its escrow" : "What that costs"}
      </Link>
    </p>
  ));
}

function NothingDue() {
  return (
    <p className="py-6 text-lg">
      All settled. What is due next shows up here, some days ahead of its date as each flow says.
    </p>
  );
}

function Keys() {
  const keys = [
    ["↑ ↓", "move"],
    ["Enter", "settle as expected"],
    ["A", "another amount or date"],
    ["L", "leave out"],
    ["P", "put off"],
    ["O", "open the flow"],
    ["Space", "choose several"],
    ["T", "to what may be taken back"],
  ];
  return (
    <p className="mt-1 hidden flex-wrap gap-x-4 gap-y-1 text-sm text-pencil md:flex">
      {keys.map(([key, what]) => (
        <span key={key}>
          <kbd className="rounded-sm border border-rule-strong px-1.5 font-sans text-xs text-ink">{key}</kbd> {what}
        </span>
      ))}
    </p>
  );
}

/** What is past due and due, as a table. */
function DueAsCsv({ due, today }: { due: Due[]; today: string }) {
  const { data } = useAccounts();
  const named = new Map(data?.accounts.map(({ account }) => [account.id, account.name]));
  return (
    <AsCsv
      name={`due-${today}`}
      of="what is due"
      headings={["due", "name", "account", "amount", "currency", "stands"]}
      rows={() =>
        due.map(({ lands, name, account, amount, currency, status }) => [
          lands,
          name,
          named.get(account) ?? account,
          { amount, currency },
          currency,
          status.replace("_", " "),
        ])
      }
    />
  );
}

interface HeadingProps {
  data: NonNullable<ReturnType<typeof useDue>["data"]>;
  chosen: number;
  onTakeBack: () => void;
  onSettle: () => void;
}

/** How much is due, and what can be done with all of it. */
function Heading({ data, chosen, onTakeBack, onSettle }: HeadingProps) {
  return (
    <div className="mb-2 flex flex-wrap items-baseline gap-x-4">
      <h1 className="text-xl">Settle</h1>
      <p className="text-pencil">{summary(data.due, data.due_in_all)}</p>
      {data.due.length > 0 && <DueAsCsv due={data.due} today={data.today} />}
      {data.settled.length + data.left_out.length > 0 && data.due.length > 0 && (
        <Button look="link" className="!min-h-8" onClick={onTakeBack}>
          What may be taken back
        </Button>
      )}
      {chosen > 1 && (
        <Button look="main" className="ml-auto" onClick={onSettle}>
          Settle these {chosen} as expected
        </Button>
      )}
    </div>
  );
}

/** What the keys do on a line. */
function onKey(event: KeyboardEvent, line: Due, actions: DueActions) {
  if (event.target !== event.currentTarget || event.ctrlKey || event.metaKey || event.altKey) return;
  const byKey = new Map<string, () => unknown>([
    [" ", () => actions.choose(line)],
    ["Enter", () => actions.do(line, "settle")],
    ["a", () => actions.edit(line, "settle")],
    ["l", () => actions.do(line, "leave_out")],
    ["p", () => actions.edit(line, "put_off")],
    ["o", () => actions.open(line)],
  ]);
  const action = byKey.get(event.key.length === 1 ? event.key.toLowerCase() : event.key);
  if (!action) return;
  event.preventDefault();
  action();
}
