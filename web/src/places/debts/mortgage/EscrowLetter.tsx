import { digits, money, readAmount } from "@/shared/format";
import type { Escrow } from "./EscrowPage";

const ROWS = [
  { item: "new_deposit", name: "New deposit" },
  { item: "required_start", name: "Required at the start" },
  { item: "shortage", name: "Shortage" },
  { item: "surplus", name: "Surplus" },
] as const;
type Item = (typeof ROWS)[number]["item"];

export type Letter = Partial<Record<Item, string>>;

/** What was typed of the letter, as it is asked about; what cannot be read yet is left out. */
export function readLetter(letter: Letter, currency: string): Partial<Record<Item, number>> {
  const letterItems: Partial<Record<Item, number>> = {};
  for (const { item } of ROWS) {
    const read = readAmount(letter[item] ?? "", currency);
    if ("amount" in read) letterItems[item] = read.amount;
  }
  return letterItems;
}

interface Props {
  data: Escrow;
  letter: Letter;
  onChange: (letter: Letter) => void;
}

/** What the lender’s letter says, beside what it should say. */
export function EscrowLetter({ data, letter, onChange }: Props) {
  return (
    <details className="mt-2 border-t border-rule pt-1">
      <summary className="min-h-9 cursor-pointer text-copper">Hold the lender’s letter against it</summary>
      <table className="w-full max-w-2xl border-collapse text-right">
        <thead>
          <tr className="text-sm text-pencil [&>th]:py-1 [&>th]:font-normal">
            <th className="text-left">Figure</th>
            <th>In the letter</th>
            <th>Worked out</th>
            <th>Difference</th>
          </tr>
        </thead>
        <tbody>
          {ROWS.map(({ item, name }) => (
            <LetterRow
              key={item}
              name={name}
              text={letter[item] ?? ""}
              right={data.analysis[item]}
              apart={letter[item]?.trim() ? data.letter.find((line) => line.item === item)?.difference : undefined}
              currency={data.currency}
              onChange={(text) => onChange({ ...letter, [item]: text })}
            />
          ))}
        </tbody>
      </table>
    </details>
  );
}

interface RowProps {
  name: string;
  text: string;
  right: number;
  apart: number | undefined;
  currency: string;
  onChange: (text: string) => void;
}

function LetterRow({ name, text, right, apart, currency, onChange }: RowProps) {
  const read = text.trim() ? readAmount(text, currency) : null;
  return (
    <tr className="border-t border-rule">
      <td className="py-1 text-left">{name}</td>
      <td>
        <input
          aria-label={`${name}, in the letter`}
          inputMode="decimal"
          value={text}
          onChange={(event) => onChange(event.target.value)}
          className="field !w-32 text-right"
        />
        {read && "problem" in read && <span className="block text-sm text-rust">{read.problem}</span>}
      </td>
      <td>{digits(right, currency)}</td>
      <td>
        {apart === 0 && <span className="text-teal">agrees</span>}
        {apart !== undefined && apart !== 0 && (
          <strong className="text-rust">
            {apart > 0 ? "+" : "−"}
            {money(Math.abs(apart), currency)}
          </strong>
        )}
      </td>
    </tr>
  );
}
