import { type FormEvent, useEffect, useRef, useState } from "react";
import { type Asked, monthsFrom, type Picture } from "@/places/debts/way/wayOut";
import { ABOVE_ZERO } from "@/shared/fields";
import { money, monthOf, readAmount } from "@/shared/format";
import { Button } from "@/shared/kit/Button";
import { Select } from "@/shared/kit/fields/Select";
import { AddRow, RemoveRow } from "@/shared/kit/RowButtons";

interface Props {
  picture: Picture;
  sums: Asked["one_time"];
  /** The month at which a sum is being placed; null when none is. */
  placing: string | null;
  onPlacing: (month: string | null) => void;
  onChange: (part: Partial<Asked>) => void;
}

/** Sums beside the monthly extra, each in its month. */
export function OneTime({ picture, sums, placing, onPlacing, onChange }: Props) {
  return (
    <div className="mt-1">
      {sums.map((once, place) => (
        <div key={`${once.month} ${once.amount}`} className="flex items-center gap-2 text-copper">
          <span>
            {money(once.amount, picture.currency)} once, in {monthOf(once.month)}
          </span>
          <RemoveRow
            name={`Take out ${money(once.amount, picture.currency)} in ${monthOf(once.month)}`}
            onClick={() => onChange({ one_time: sums.filter((_, at) => at !== place) })}
          />
        </div>
      ))}
      {placing === null ? (
        <AddRow name="A sum in one month" onClick={() => onPlacing(picture.start)} />
      ) : (
        <Place
          picture={picture}
          month={placing}
          onMonth={onPlacing}
          onClose={() => onPlacing(null)}
          onPlace={(amount, month) => onChange({ one_time: [...sums, { month, amount }] })}
        />
      )}
    </div>
  );
}

interface PlaceProps {
  picture: Picture;
  month: string;
  onMonth: (month: string) => void;
  onClose: () => void;
  onPlace: (amount: number, month: string) => void;
}

function Place({ picture, month, onMonth, onClose, onPlace }: PlaceProps) {
  const field = useRef<HTMLInputElement>(null);
  const [text, setText] = useState("");
  const [isTried, setTried] = useState(false);
  useEffect(() => field.current?.focus(), []);
  const read = readAmount(text, picture.currency);
  const problem = "problem" in read ? read.problem : read.amount <= 0 ? ABOVE_ZERO : undefined;
  const onSubmit = (event: FormEvent) => {
    event.preventDefault();
    setTried(true);
    if (problem || !("amount" in read)) return;
    onPlace(read.amount, month);
    onClose();
  };
  return (
    <form onSubmit={onSubmit} className="mt-2 flex flex-wrap items-center gap-2" aria-label="A sum in one month">
      <input
        ref={field}
        aria-label="How much"
        aria-invalid={isTried && Boolean(problem)}
        inputMode="decimal"
        placeholder="How much"
        value={text}
        onChange={(event) => setText(event.target.value)}
        className="field !w-32 text-right"
      />
      <Select
        label="In which month"
        value={month}
        options={monthsFrom(picture.start, Math.max(12, picture.months))}
        onChange={onMonth}
        className="field !w-36"
      />
      <Button type="submit">Place it</Button>
      <Button look="link" onClick={onClose}>
        Not now
      </Button>
      {isTried && problem && <p className="w-full text-sm text-rust">{problem}</p>}
    </form>
  );
}
