import { money, monthOf, monthsText } from "@/shared/format";
import type { Picture } from "./wayOut";

/** The plan in two sentences: when it ends, and what that saves. */
export function WayWhole({ picture }: { picture: Picture }) {
  const { currency, least } = picture;
  const names = Object.fromEntries(picture.debts.map((debt) => [debt.id, debt.name]));
  const { saves_interest: saved, saves_months: sooner } = least;
  return (
    <div aria-live="polite" className="mt-1 text-lg" data-testid="whole">
      {picture.debt_free ? (
        <p>
          Debt-free in <strong>{monthOf(picture.debt_free)}</strong>, with{" "}
          <strong>{money(picture.total_interest, currency)}</strong> of interest
          {saved !== null && saved > 0 && (
            <>
              : <strong>{money(saved, currency)}</strong> less than minimums alone
              {sooner !== null && sooner > 0 && `, and ${monthsText(sooner)} sooner`}
            </>
          )}
          .
        </p>
      ) : (
        <ul>
          {picture.never_clears.map((neverClear) => (
            <li key={neverClear.id} className="border-l-2 border-rust pl-3">
              {names[neverClear.id]} never clears so: {money(neverClear.needs_monthly, currency)} a month would clear it
              in 30 years.
            </li>
          ))}
        </ul>
      )}
    </div>
  );
}
