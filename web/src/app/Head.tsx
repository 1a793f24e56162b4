import { Redo2, Search, Undo2 } from "lucide-react";
import { useHistory, useHousehold, useUndo } from "@/shared/api/hooks";
import { dayText } from "@/shared/format";
import { Tooltip } from "@/shared/kit/Tooltip";
import { WhatIfChooser } from "./WhatIfChooser";

/** The mark, whose household this is, the search-and-do box, undo and redo, and today. */
export function Head({ onSearch }: { onSearch: () => void }) {
  const household = useHousehold().data;
  return (
    <header className="flex h-12 items-center gap-3 px-4 md:px-6">
      <img src="/mark.svg" alt="" width={26} height={26} />
      {/* A long name has two lines where there is no room for one, and is whole. */}
      <p className="line-clamp-2 min-w-0 text-balance break-words font-display text-sm leading-tight font-semibold md:text-lg">
        {household?.household.name || "Next Penny"}
      </p>
      <WhatIfChooser />
      <div className="flex-1" />
      <button
        type="button"
        onClick={onSearch}
        className="flex min-h-9 items-center gap-2 rounded-sm px-2 text-pencil hover:bg-hover md:w-64 md:border md:border-rule-strong"
      >
        <Search size={17} aria-hidden />
        <span className="sr-only md:not-sr-only">Find or do…</span>
        <kbd className="ml-auto hidden rounded-sm border border-rule px-1.5 text-xs md:inline">/</kbd>
      </button>
      <UndoRedo />
      <p className="hidden whitespace-nowrap text-sm text-pencil sm:block">
        {household && (
          <>
            Today is <span className="text-ink">{dayText(household.today)}</span>
          </>
        )}
      </p>
    </header>
  );
}

function UndoRedo() {
  const history = useHistory().data;
  const { undo, redo } = useUndo();
  const look = "grid size-9 place-items-center rounded-sm hover:bg-hover disabled:opacity-35";
  return (
    <div className="flex">
      <Tooltip text={history?.undo ? `Undo: ${history.undo}` : "Nothing to undo"}>
        <button type="button" aria-label="Undo" className={look} disabled={!history?.undo} onClick={() => undo()}>
          <Undo2 size={19} aria-hidden />
        </button>
      </Tooltip>
      <Tooltip text={history?.redo ? `Redo: ${history.redo}` : "Nothing to redo"}>
        <button type="button" aria-label="Redo" className={look} disabled={!history?.redo} onClick={() => redo()}>
          <Redo2 size={19} aria-hidden />
        </button>
      </Tooltip>
    </div>
  );
}
