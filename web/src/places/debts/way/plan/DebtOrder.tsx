import { ChevronDown, ChevronUp, GripVertical } from "lucide-react";
import { type KeyboardEvent, useState } from "react";
import type { Asked, Picture } from "@/places/debts/way/wayOut";
import { money, monthOf, rateText } from "@/shared/format";
import { RemoveRow } from "@/shared/kit/RowButtons";

interface Props {
  picture: Picture;
  chosen: Asked["debts"];
  onChange: (part: Partial<Asked>) => void;
}

type Debt = Picture["debts"][number];

/** The debts in the order in which they are paid; moving one, by hand or by keys, makes an own order of it. */
export function DebtOrder({ picture, chosen, onChange }: Props) {
  const [dragged, setDragged] = useState<string | null>(null);
  const ids = picture.debts.map((debt) => debt.id);
  const move = (id: string, to: number) => {
    const rest = ids.filter((other) => other !== id);
    rest.splice(Math.max(0, Math.min(rest.length, to)), 0, id);
    onChange({ strategy: "custom", order: rest });
  };
  const choose = (id: string, isIn: boolean) => {
    const included = chosen ?? ids;
    onChange({ debts: isIn ? [...included, id] : included.filter((other) => other !== id) });
  };
  return (
    <section aria-label="In paying order">
      <ol className="border-t border-rule-strong">
        {picture.debts.map((debt, place) => (
          <li
            key={debt.id}
            draggable
            onDragStart={() => setDragged(debt.id)}
            onDragEnd={() => setDragged(null)}
            onDragOver={(event) => dragged && event.preventDefault()}
            onDrop={() => dragged && move(dragged, place)}
            className={`flex items-start gap-2 border-b border-rule py-1.5 ${dragged === debt.id ? "opacity-50" : ""}`}
          >
            <Handle debt={debt} place={place} last={ids.length - 1} onMove={(to) => move(debt.id, to)} />
            <Line debt={debt} currency={picture.currency} />
            <RemoveRow name={`Leave ${debt.name} out of this plan`} onClick={() => choose(debt.id, false)} />
          </li>
        ))}
      </ol>
      <Others picture={picture} onTake={(id) => choose(id, true)} />
    </section>
  );
}

interface HandleProps {
  debt: Debt;
  place: number;
  last: number;
  onMove: (to: number) => void;
}

function Handle({ debt, place, last, onMove }: HandleProps) {
  const onKeyDown = (event: KeyboardEvent) => {
    if (event.key === "ArrowUp" || event.key === "ArrowDown") {
      event.preventDefault();
      onMove(place + (event.key === "ArrowUp" ? -1 : 1));
    }
  };
  const button = "grid h-6 w-7 place-items-center rounded-sm hover:bg-hover disabled:opacity-30";
  return (
    <fieldset className="flex items-center" aria-label={`Move ${debt.name}`} onKeyDown={onKeyDown}>
      <GripVertical size={16} aria-hidden className="cursor-grab text-pencil" />
      <span className="flex flex-col">
        <button
          type="button"
          aria-label={`${debt.name}: earlier`}
          disabled={place === 0}
          onClick={() => onMove(place - 1)}
          className={button}
        >
          <ChevronUp size={16} aria-hidden />
        </button>
        <button
          type="button"
          aria-label={`${debt.name}: later`}
          disabled={place === last}
          onClick={() => onMove(place + 1)}
          className={button}
        >
          <ChevronDown size={16} aria-hidden />
        </button>
      </span>
    </fieldset>
  );
}

function Line({ debt, currency }: { debt: Debt; currency: string }) {
  return (
    <div className="min-w-0 flex-1">
      <div className="flex items-baseline justify-between gap-3">
        <span className="min-w-0 break-words font-semibold">{debt.name}</span>
        <span className="font-semibold">{money(debt.owed, currency)}</span>
      </div>
      <div className="flex flex-wrap items-baseline justify-between gap-x-3 text-sm text-pencil">
        <span>
          {rateText(debt.annual_rate)}%, at least {money(debt.minimum, currency)} a month
        </span>
        <span className="pencilled">{debt.clears ? `clear in ${monthOf(debt.clears)}` : "never clears so"}</span>
      </div>
    </div>
  );
}

function Others({ picture, onTake }: { picture: Picture; onTake: (id: string) => void }) {
  if (picture.others.length === 0) return null;
  return (
    <ul aria-label="Not in this plan" className="py-1 text-sm text-pencil">
      {picture.others.map((other) => (
        <li key={other.id} className="flex flex-wrap items-center gap-x-2">
          {other.name} {other.why}.
          {other.can_join && (
            <button
              type="button"
              aria-label={`Take it in: ${other.name}`}
              onClick={() => onTake(other.id)}
              className="min-h-8 text-copper hover:underline"
            >
              Take it in
            </button>
          )}
        </li>
      ))}
    </ul>
  );
}
