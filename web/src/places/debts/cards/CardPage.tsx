import { useState } from "react";
import { Link, useParams } from "react-router";
import { type Schemas, server } from "@/shared/api/client";
import { useSave } from "@/shared/api/hooks";
import { dayText, digits, money, monthOf, rateText } from "@/shared/format";
import { BackLink } from "@/shared/kit/BackLink";
import { Button } from "@/shared/kit/Button";
import { Missing } from "@/shared/kit/Missing";
import { useToast } from "@/shared/kit/Toast";
import { Tooltip } from "@/shared/kit/Tooltip";
import { keptSearch, useView } from "@/shared/view";
import { CardWays } from "./CardWays";

type Page = Schemas["CardPage"];

/** A card or line: what is owed and comes next, its statements, the months to come, and other ways of paying it. */
export function CardPage() {
  const { id = "" } = useParams();
  const { data, error } = server.useQuery(
    "get",
    "/api/debts/cards/{id}",
    { params: { path: { id } } },
    { retry: false },
  );
  return (
    <div className="mx-auto max-w-6xl px-4 py-4 md:px-6">
      <BackLink to="/debts" name="Debts" />
      {error && <Missing error={error} />}
      {data && <CardView page={data} />}
    </div>
  );
}

function CardView({ page }: { page: Page }) {
  const { openSlip, search } = useView();
  const { card, account, today } = page;
  return (
    <>
      <div className="flex flex-wrap items-center gap-x-4 gap-y-2">
        <h1 className="text-xl">{card.name}</h1>
        <Button className="!min-h-9" onClick={() => openSlip("account", account.id)}>
          Change the terms
        </Button>
        <Link
          to={{ pathname: `/accounts/${encodeURIComponent(account.id)}`, search: keptSearch(search) }}
          className="text-copper underline underline-offset-4"
        >
          Register
        </Link>
      </div>
      <AtAGlance page={page} />
      {page.counted_twice && <CountedTwice twice={page.counted_twice} currency={card.currency} today={today} />}
      <CardWays card={card} ways={page.ways} />
      <ComingMonths page={page} />
      <Statements page={page} />
    </>
  );
}

function AtAGlance({ page }: { page: Page }) {
  const { card, today } = page;
  const { currency } = card;
  const pays = { statement: "the whole statement", minimum: "the minimum", fixed: "a fixed amount" }[card.pays];
  return (
    <>
      <p className="mt-1 text-lg">
        <strong>{money(card.owed, currency)}</strong> owed today,{" "}
        {card.available < 0 ? (
          <strong className="text-rust">{money(-card.available, currency)} over the limit</strong>
        ) : (
          <>
            {money(card.available, currency)} of {money(card.limit, currency)} still free
          </>
        )}
        .{" "}
        {page.paid_from ? (
          <>
            {money(card.next_payment, currency)} is paid from {page.paid_from} on{" "}
            <strong>{dayText(card.next_due, today)}</strong>: {pays}.
          </>
        ) : (
          <>Due {dayText(card.next_due, today)}, and paid by hand.</>
        )}
      </p>
      <p className="mt-1 text-pencil">
        {rateText(card.annual_rate)}% a year: {money(card.cost_month, currency)} a month,{" "}
        {money(card.cost_year, currency)} a year, at what is owed today. This cycle closes{" "}
        {dayText(card.next_closing, today)}.{page.covers && ` It lends by itself to ${page.covers}.`}
      </p>
      {card.rises && (
        <p className="mt-2 border-l-2 border-rust pl-3">
          From <strong>{dayText(card.rises.day, today)}</strong> the rate is {rateText(card.rises.rate)}% in place of{" "}
          {rateText(card.rises.before)}%. With {money(card.rises.owed, currency)} owed by then, a month costs{" "}
          <strong>{money(card.rises.cost_month, currency)}</strong> in place of{" "}
          {money(card.rises.cost_month_before, currency)}.
        </p>
      )}
    </>
  );
}

interface TwiceProps {
  twice: NonNullable<Page["counted_twice"]>;
  currency: string;
  today: string;
}

/** Payments of the card that were written down as spending, and the way to put them right. */
function CountedTwice({ twice, currency, today }: TwiceProps) {
  const save = useSave();
  const toast = useToast();
  const when =
    twice.entries === 1
      ? `The payment of ${dayText(twice.first, today)}`
      : `${twice.entries} payments from ${dayText(twice.first, today)} to ${dayText(twice.last, today)}`;
  const correct = () =>
    save.mutate(twice.changes, {
      onSuccess: () => toast("Recorded as payments of the card. Undo takes it back."),
      onError: (error) => toast(error.message),
    });
  return (
    <p className="mt-2 flex flex-wrap items-center gap-x-3 border-l-2 border-copper pl-3">
      <span>
        {when} {twice.entries === 1 ? "is" : "are"} recorded as spending, but what was bought is spending already:{" "}
        <strong>{money(twice.amount, currency)}</strong> count twice.
      </span>
      <Button className="!min-h-9" disabled={save.isPending} onClick={correct}>
        Record as payments of the card
      </Button>
    </p>
  );
}

function ComingMonths({ page }: { page: Page }) {
  const { months, card } = page;
  const { currency } = card;
  const hasDraws = page.year.drawn > 0;
  return (
    <section aria-label="The next twelve months" className="mt-8">
      <h2 className="border-b border-rule-strong text-lg">The next twelve months</h2>
      <table className="w-full border-collapse text-right">
        <thead>
          <tr className="text-sm text-pencil [&>th]:py-1 [&>th]:font-normal">
            <th className="text-left">Month</th>
            {hasDraws && <th>Lent</th>}
            <th>Paid</th>
            <th>Interest</th>
            <th>Owed at its end</th>
          </tr>
        </thead>
        <tbody>
          {months.map((month) => (
            <MonthLine key={month.month} month={month} hasDraws={hasDraws} currency={currency} />
          ))}
        </tbody>
        <tfoot>
          <tr className="border-t border-rule-strong font-semibold">
            <td className="py-1 text-left">Together</td>
            {hasDraws && <td>{digits(page.year.drawn, currency)}</td>}
            <td>{digits(page.year.paid, currency)}</td>
            <td>{digits(page.year.interest, currency)}</td>
            <td />
          </tr>
        </tfoot>
      </table>
    </section>
  );
}

interface MonthProps {
  month: Page["months"][number];
  hasDraws: boolean;
  currency: string;
}

/** A month's sums, and on asking how each of its movements comes about. */
function MonthLine({ month, hasDraws, currency }: MonthProps) {
  const [isOpen, setOpen] = useState(false);
  const name = monthOf(month.month);
  return (
    <>
      <tr className="border-t border-rule pencilled">
        <td className="py-1 text-left">
          {month.whys.length > 0 ? (
            <button
              type="button"
              aria-expanded={isOpen}
              aria-label={`${name}, why`}
              onClick={() => setOpen(!isOpen)}
              className="italic underline decoration-dotted underline-offset-4"
            >
              {name}
            </button>
          ) : (
            name
          )}
        </td>
        {hasDraws && <td>{month.drawn ? digits(month.drawn, currency) : ""}</td>}
        <td>{month.paid ? digits(month.paid, currency) : ""}</td>
        <td>{month.interest ? digits(month.interest, currency) : ""}</td>
        <td>{digits(month.owed, currency)}</td>
      </tr>
      {isOpen && (
        <tr>
          <td colSpan={5} className="pb-2 text-left text-sm">
            <ul className="border-l-2 border-copper pl-3">
              {month.whys.map((why) => (
                <li key={why}>{why}</li>
              ))}
            </ul>
          </td>
        </tr>
      )}
    </>
  );
}

/** The recorded cycles, the running one first; each leads to what was in it. */
function Statements({ page }: { page: Page }) {
  const { search } = useView();
  const { statements, card, account, today } = page;
  const { currency } = card;
  const inside = (first: string, last: string) => {
    const query = new URLSearchParams(keptSearch(search));
    query.set("since", first);
    query.set("to", last);
    return { pathname: `/accounts/${encodeURIComponent(account.id)}`, search: query.toString() };
  };
  return (
    <section aria-label="Statements" className="mt-8">
      <h2 className="border-b border-rule-strong text-lg">Statements</h2>
      <table className="w-full border-collapse text-right">
        <thead>
          <tr className="text-sm text-pencil [&>th]:py-1 [&>th]:font-normal">
            <th className="text-left">Closed</th>
            <th>Spent</th>
            <th>Came in</th>
            <th className="hidden @2xl:table-cell">Interest</th>
            <th>Owed</th>
            <th className="hidden @2xl:table-cell">Minimum</th>
            <th className="hidden @2xl:table-cell">Due</th>
          </tr>
        </thead>
        <tbody>
          {statements.map((statement) => (
            <tr key={statement.closing} className="border-t border-rule">
              <td className="py-1 text-left">
                <Link
                  to={inside(statement.first, statement.closing)}
                  className="text-copper underline underline-offset-4"
                >
                  {statement.closing >= today ? "this cycle so far" : dayText(statement.closing, today)}
                </Link>
              </td>
              <td>{statement.spent ? digits(statement.spent, currency) : ""}</td>
              <td>{statement.came_in ? digits(statement.came_in, currency) : ""}</td>
              <td className="hidden @2xl:table-cell">
                {statement.interest ? digits(statement.interest, currency) : ""}
              </td>
              <td>{digits(statement.balance, currency)}</td>
              <td className="hidden @2xl:table-cell">
                {statement.closing < today && (
                  <Tooltip text={statement.why_minimum}>
                    <button type="button" className="underline decoration-dotted underline-offset-4">
                      {digits(statement.minimum, currency)}
                    </button>
                  </Tooltip>
                )}
              </td>
              <td className="hidden @2xl:table-cell">{dayText(statement.due, today)}</td>
            </tr>
          ))}
        </tbody>
      </table>
    </section>
  );
}
