import { Popover } from "radix-ui";
import { useSettleLines } from "@/places/settle/useSettle";
import type { Schemas } from "@/shared/api/client";
import { dayText, digits, money } from "@/shared/format";
import { Button } from "@/shared/kit/Button";
import { useView } from "@/shared/view";
import { HANDS, STANDING } from "./Mark";

interface Props {
  row: Schemas["YearListRow"];
  mark: Schemas["YearMark"];
  month: string;
  today: string;
}

/** What a bill costs in a month; where something of it is still to be settled, it opens. */
export function YearCell({ row, mark, month, today }: Props) {
  if (mark.stands === "none") return null;
  const amount = digits(mark.amount, row.currency);
  const says = `${row.name}, ${month}: ${money(mark.amount, row.currency)} ${STANDING[mark.stands]}`;
  if (mark.unsettled.length === 0)
    return (
      <span title={says} className={HANDS[mark.stands]}>
        {amount}
        <span className="sr-only"> {STANDING[mark.stands]}</span>
      </span>
    );
  return (
    <Popover.Root>
      <Popover.Trigger
        aria-label={says}
        title={says}
        className={`min-h-7 min-w-7 rounded-[2px] px-0.5 whitespace-nowrap hover:bg-hover ${HANDS[mark.stands]}`}
      >
        {amount}
      </Popover.Trigger>
      <Popover.Portal>
        <Popover.Content
          aria-label={`${row.name}, ${month}`}
          align="end"
          sideOffset={2}
          collisionPadding={8}
          className="z-40 rounded-sm border border-rule-strong bg-sheet p-3 shadow-lg"
        >
          <p className="mb-1 font-semibold">{row.name}</p>
          <ul>
            {mark.unsettled.map((due) => (
              <StillDue key={due.nominal} row={row} due={due} today={today} />
            ))}
          </ul>
        </Popover.Content>
      </Popover.Portal>
    </Popover.Root>
  );
}

interface DueProps {
  row: Schemas["YearListRow"];
  due: Schemas["Occurrence"];
  today: string;
}

/** One occurrence: settled as it was expected, or opened. */
function StillDue({ row, due, today }: DueProps) {
  const settling = useSettleLines();
  const { openSlip } = useView();
  const name = `${money(due.amount, row.currency)} on ${dayText(due.lands, today)}`;
  return (
    <li className="flex flex-wrap items-center gap-x-3 gap-y-1 border-t border-rule py-1.5">
      <span className={`mr-auto whitespace-nowrap ${due.lands < today ? "text-rust" : "pencilled"}`}>{name}</span>
      <Button
        aria-label={`Settle ${name}`}
        onClick={() => settling.mutate([{ flow: row.id, nominal: due.nominal, do: "settle", part: false }])}
      >
        Settle
      </Button>
      <Popover.Close asChild>
        <Button
          aria-label={`Open ${name}`}
          onClick={() => openSlip("once", row.id, `${due.nominal}~${due.amount}~${due.lands}`)}
        >
          Open
        </Button>
      </Popover.Close>
      {settling.error && (
        <p role="alert" className="w-full text-rust">
          {settling.error.message}
        </p>
      )}
    </li>
  );
}
