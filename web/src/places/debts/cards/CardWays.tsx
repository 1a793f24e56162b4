import { keepPreviousData } from "@tanstack/react-query";
import { type ReactNode, useState } from "react";
import { type Schemas, server } from "@/shared/api/client";
import { useSave } from "@/shared/api/hooks";
import { ABOVE_ZERO } from "@/shared/fields";
import { money, monthOf, readAmount } from "@/shared/format";
import { Button } from "@/shared/kit/Button";
import { useToast } from "@/shared/kit/Toast";

type Way = Schemas["PayingModel"];

interface Props {
  card: Schemas["CardRow"];
  ways: Way[];
}

/** What paying otherwise would cost and how long it would last, without new purchases. */
export function CardWays({ card, ways }: Props) {
  const [text, setText] = useState("");
  const { currency } = card;
  const read = readAmount(text || "0", currency);
  const amount = "amount" in read && read.amount > 0 ? read.amount : null;
  const tried = server.useQuery(
    "post",
    "/api/debts/cards/{id}/paying",
    { params: { path: { id: card.id } }, body: { pays: "fixed", fixed_amount: amount } },
    { enabled: amount !== null, placeholderData: keepPreviousData, retry: false },
  );
  const names = { statement: "The whole statement", minimum: "Only the minimum" };
  const unread = "problem" in read ? read.problem : amount === null ? ABOVE_ZERO : undefined;
  const problem = text ? (unread ?? tried.error?.message) : undefined;
  return (
    <section aria-label="Paying it otherwise" className="mt-8">
      <h2 className="border-b border-rule-strong text-lg">Paying it otherwise</h2>
      <p className="py-1 text-sm text-pencil">From today, without new purchases.</p>
      <table className="w-full border-collapse text-right">
        <thead>
          <tr className="text-sm text-pencil [&>th]:py-1 [&>th]:font-normal">
            <th className="text-left">Paid each time</th>
            <th className="hidden @2xl:table-cell">First payment</th>
            <th>Paid off</th>
            <th className="hidden @2xl:table-cell">Payments</th>
            <th>Interest in all</th>
            <th className="hidden @2xl:table-cell">Against the minimum</th>
          </tr>
        </thead>
        <tbody>
          {ways.map((way) => (
            <WayLine key={way.pays} way={way} currency={currency}>
              {way.pays === "fixed" ? `${money(way.first_payment, currency)}, fixed` : names[way.pays]}
              {way.pays === card.pays && <span className="ml-2 text-sm text-pencil">as it is</span>}
            </WayLine>
          ))}
          <WayLine way={amount === null ? undefined : tried.data} currency={currency} isTried>
            <label className="inline-flex flex-wrap items-center gap-x-2">
              Another fixed amount
              <input
                aria-label="A fixed amount each time"
                aria-invalid={Boolean(problem)}
                inputMode="decimal"
                value={text}
                onChange={(event) => setText(event.target.value)}
                className="field !min-h-9 !w-28 text-right"
              />
            </label>
            {amount !== null && <Adopt card={card} amount={amount} />}
          </WayLine>
        </tbody>
      </table>
      {problem && <p className="text-sm text-rust">{problem}</p>}
    </section>
  );
}

interface LineProps {
  way: Way | undefined;
  currency: string;
  isTried?: boolean;
  children: ReactNode;
}

function WayLine({ way, currency, isTried = false, children }: LineProps) {
  const saved = way?.saves ?? 0;
  return (
    <tr className={`border-t border-rule ${isTried ? "text-copper" : ""}`} data-testid={isTried ? "tried" : undefined}>
      <td className="py-1.5 text-left text-ink">{children}</td>
      <td className="hidden @2xl:table-cell">{way && money(way.first_payment, currency)}</td>
      <td className="whitespace-nowrap">{way && (way.ends ? monthOf(way.ends) : "never")}</td>
      <td className="hidden @2xl:table-cell">{way?.ends && way.payments}</td>
      <td>{way?.ends && money(way.interest, currency)}</td>
      <td className="hidden @2xl:table-cell">
        {saved > 0 && `saves ${money(saved, currency)}`}
        {saved < 0 && `costs ${money(-saved, currency)} more`}
      </td>
    </tr>
  );
}

/** Pay that amount from here on: the card's terms, and the forecast with them. */
function Adopt({ card, amount }: { card: Props["card"]; amount: number }) {
  const save = useSave();
  const toast = useToast();
  const adopt = () =>
    save.mutate(
      [{ op: "revise", kind: "account", id: card.id, from: null, value: { pays: "fixed", fixed_amount: amount } }],
      {
        onSuccess: () => toast("Paid so from now on. Undo takes it back."),
        onError: (error) => toast(error.message),
      },
    );
  return (
    <Button className="ml-3 !min-h-9" disabled={save.isPending} onClick={adopt}>
      Pay so from now on
    </Button>
  );
}
