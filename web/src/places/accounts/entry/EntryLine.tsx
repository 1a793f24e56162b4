import { Check, Lock, Paperclip, Pencil } from "lucide-react";
import type { Schemas } from "@/shared/api/client";
import { dayText, digits, money } from "@/shared/format";
import { CategoryIcon } from "@/shared/look/icons";
import { useView } from "@/shared/view";

export type Row = Schemas["RegisterRow"];

export const GRID =
  "grid grid-cols-[5rem_minmax(0,1fr)_auto] gap-x-3 @2xl:grid-cols-[7rem_minmax(0,1fr)_minmax(0,1fr)_7.5rem_7.5rem]";

interface Props {
  row: Row;
  today: string;
  currency: string;
  /** The account that it is on, where that is not plain. */
  account: string | undefined;
  isChosen: boolean;
  onChoose: () => void;
  onEdit: () => void;
}

/** One entry of a register: opened by a click, corrected in its place by the pen, chosen by the box. */
export function EntryLine({ row, today, currency, account, isChosen, onChoose, onEdit }: Props) {
  const { openSlip } = useView();
  const { name } = row;
  const open = () => (row.is_assumed ? openSlip("flow", row.flow) : openSlip("entry", row.id));
  return (
    <div className={`flex items-center gap-1 ${isChosen ? "bg-hover" : ""}`}>
      <span className="hidden w-6 shrink-0 @2xl:block">
        {!row.is_assumed && (
          <input
            type="checkbox"
            aria-label={`Choose ${name}, ${dayText(row.date, today)}`}
            checked={isChosen}
            onChange={onChoose}
            className="size-4 accent-(--ink)"
          />
        )}
      </span>
      <button
        type="button"
        onClick={open}
        className={`${GRID} min-h-10 min-w-0 flex-1 items-center text-left hover:bg-hover ${row.is_assumed ? "pencilled" : ""}`}
      >
        <span className="whitespace-nowrap">{dayText(row.date, today)}</span>
        <span className="min-w-0 py-1 break-words">
          {name}
          {row.number && <span className="ml-1.5 text-sm text-pencil">no. {row.number}</span>}
          <Stands row={row} currency={currency} />
          {row.has_receipt && <Paperclip size={14} aria-label="has a receipt" className="ml-1.5 inline" />}
          {row.tags.map((tag) => (
            <span key={tag} className="ml-1.5 rounded-sm border border-rule px-1 text-xs text-pencil">
              {tag}
            </span>
          ))}
          <span className="block break-words text-sm text-pencil @2xl:hidden">{account ?? row.other}</span>
        </span>
        <span className="hidden items-center gap-2 text-pencil @2xl:flex">
          <CategoryIcon name={row.icon} size={16} />
          <span className="min-w-0 break-words">{account ?? (row.is_assumed ? "assumed" : row.other)}</span>
        </span>
        <span className={`text-right ${row.amount > 0 ? "text-teal" : ""}`}>
          {row.amount > 0 && "+"}
          {digits(row.amount, currency)}
          <span className="block text-sm text-pencil @2xl:hidden">{digits(row.balance, currency)}</span>
        </span>
        <span className="hidden text-right @2xl:block">{digits(row.balance, currency)}</span>
      </button>
      <span className="hidden w-9 shrink-0 @2xl:block">
        {!row.is_assumed && (
          <button
            type="button"
            aria-label={`Correct ${name} here`}
            onClick={onEdit}
            className="grid size-9 place-items-center rounded-sm text-pencil hover:bg-hover hover:text-ink"
          >
            <Pencil size={15} aria-hidden />
          </button>
        )}
      </span>
    </div>
  );
}

/** Whether the entry is on a statement, and at the end of a day with a true balance whether the books agree. */
function Stands({ row, currency }: { row: Row; currency: string }) {
  return (
    <>
      {row.stands === "ticked" && <Check size={14} aria-label="ticked on a statement" className="ml-1.5 inline" />}
      {row.stands === "locked" && <Lock size={13} aria-label="on a finished statement" className="ml-1.5 inline" />}
      {row.off !== null && (
        <span className={`ml-1.5 text-sm ${row.off === 0 ? "text-pencil" : "text-rust"}`}>
          {row.off === 0
            ? "the bank agrees"
            : `the bank has ${money(Math.abs(row.off), currency)} ${row.off > 0 ? "more" : "less"}`}
        </span>
      )}
    </>
  );
}
