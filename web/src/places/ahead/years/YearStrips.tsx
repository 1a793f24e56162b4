import { useState } from "react";
import type { Schemas } from "@/shared/api/client";
import { digits, money } from "@/shared/format";
import { Mark, MONTHS } from "./Mark";
import { YearCell } from "./YearCell";
import { RowName } from "./YearTable";

/** The year's bills for a narrow screen: each with its twelve months below it, which open to their amounts. */
export function YearStrips({ data }: { data: Schemas["YearListAnswer"] }) {
  return (
    <div className="@6xl:hidden">
      <ol>
        {data.rows.map((row) => (
          <Strip key={row.id} row={row} today={data.today} />
        ))}
      </ol>
      <p className="flex justify-between py-2 font-semibold">
        <span>The year</span> <span>{money(data.total, data.currency)}</span>
      </p>
      <p className="flex justify-between">
        <span>Still owed on debts</span> <span>{money(data.owed, data.currency)}</span>
      </p>
    </div>
  );
}

function Strip({ row, today }: { row: Schemas["YearListRow"]; today: string }) {
  const [isOpen, setOpen] = useState(false);
  return (
    <li className="border-b border-rule py-2">
      <div className="flex justify-between gap-3">
        <span className="flex min-w-0">
          <span className="mr-2 inline-block w-6 shrink-0 text-right text-pencil">{row.due_day}</span>
          <RowName row={row} />
        </span>
        <span className="whitespace-nowrap">{digits(row.monthly, row.currency)} a month</span>
      </div>
      <div className="flex items-center justify-between gap-3 pl-6 text-sm text-pencil">
        <button
          type="button"
          aria-expanded={isOpen}
          aria-label={`${row.name}, month by month`}
          onClick={() => setOpen(!isOpen)}
          className="flex min-h-8 items-center gap-0.5 @md:gap-1"
        >
          {row.months.map((mark, place) => (
            <Mark key={MONTHS[place]} mark={mark.stands} />
          ))}
        </button>
        {row.owed !== null && <span className="whitespace-nowrap">{digits(row.owed, row.currency)} owed</span>}
      </div>
      {isOpen && (
        <ul className="grid grid-cols-2 gap-x-6 pl-8">
          {row.months.map((mark, place) => (
            <li key={MONTHS[place]} className="flex min-h-8 items-center justify-between border-t border-rule">
              <span className="text-sm text-pencil">{MONTHS[place]}</span>
              <YearCell row={row} mark={mark} month={MONTHS[place] ?? ""} today={today} />
            </li>
          ))}
        </ul>
      )}
    </li>
  );
}
