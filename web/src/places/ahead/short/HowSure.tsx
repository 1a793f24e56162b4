import type { Schemas } from "@/shared/api/client";
import { dayText, howMany, money } from "@/shared/format";
import { useChance } from "@/shared/hooks/useChance";
import { HistoryStrip } from "./HistoryStrip";

interface Props {
  account: string;
  today: string;
  until: string;
}

/** How likely the floor holds, what would make it sure, and what makes it uncertain. */
export function HowSure({ account, today, until }: Props) {
  const chance = useChance([account], today, until);
  if (!chance) return <p className="text-pencil">Counting…</p>;
  return (
    <section aria-label="How sure it is" className="max-w-4xl border-l-2 border-copper pl-3">
      {chance.is_known && chance.below_says !== null && <Figures chance={chance} today={today} />}
      {!chance.is_known && <TooLittle assumed={chance.assumed} />}
      {chance.is_known && <Causes causes={chance.causes} />}
      {chance.is_known && chance.assumed.length > 0 && <TooLittle assumed={chance.assumed} />}
      <details>
        <summary className="min-h-9 cursor-pointer py-1 text-copper">What this counts, and what not</summary>
        {chance.notes.map((note) => (
          <p key={note} className="text-pencil">
            {note}
          </p>
        ))}
      </details>
    </section>
  );
}

function Figures({ chance, today }: { chance: Schemas["ChanceAnswer"]; today: string }) {
  const { currency, goes_badly: badly, safe_with: safe, below_says: says } = chance;
  const until = dayText(chance.until, today);
  return (
    <>
      <p>
        {says === "never" ? (
          <>In every path it stays above the floor until {until}.</>
        ) : (
          <>
            <strong className="text-rust">{says}</strong> that it breaks the floor until {until}.
          </>
        )}{" "}
        {badly && (
          <>
            Nine times in ten the lowest is above <strong>{money(badly.balance, currency)}</strong>.
          </>
        )}
      </p>
      {safe === null ? (
        <p>No sum put in today would make it safe: what is put in does not stay.</p>
      ) : (
        safe > 0 && (
          <p>
            Safe with <strong>{money(safe, currency)}</strong> more today: it then holds in 19 of 20 paths.
          </p>
        )
      )}
    </>
  );
}

function Causes({ causes }: { causes: Schemas["ChanceAnswer"]["causes"] }) {
  const [first] = causes;
  if (!first) return null;
  return (
    <table aria-label="What makes it uncertain" className="mt-1 w-full border-collapse text-left">
      <thead>
        <tr className="border-b border-rule-strong text-sm text-pencil [&>th]:py-1 [&>th]:pr-3 [&>th]:font-normal">
          <th>What makes it uncertain</th>
          <th className="text-right">Of all</th>
          <th>As it was before</th>
        </tr>
      </thead>
      <tbody>
        {causes.filter(isWorthIt).map((cause) => (
          <tr
            key={"flow" in cause ? `flow ${cause.flow}` : `allowance ${cause.allowance}`}
            className="border-b border-rule align-top [&>td]:py-1 [&>td]:pr-3"
          >
            <td>{cause.name}</td>
            <td className="text-right">{Math.round(Number(cause.share) * 100)} %</td>
            <td className="text-pencil">
              {cause.based_on}
              <HistoryStrip percents={cause.history} />
            </td>
          </tr>
        ))}
      </tbody>
    </table>
  );
}

const isWorthIt = (cause: Schemas["ChanceAnswer"]["causes"][number]) => Number(cause.share) >= 0.005;

/** What is only assumed, and when it will be known. */
function TooLittle({ assumed }: { assumed: Schemas["AssumedModel"][] }) {
  if (assumed.length === 0) return null;
  return (
    <>
      <p className="mt-1">Too little is remembered yet to say how sure this is:</p>
      <ul>
        {assumed.map(({ name, based_on, known_in }) => (
          <li key={name} className="text-pencil">
            <span className="text-ink">{name}</span>, {based_on}
            {known_in !== null && `; known in about ${howMany(known_in, "month")}`}
          </li>
        ))}
      </ul>
    </>
  );
}
