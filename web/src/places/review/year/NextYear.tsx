import { dayText, money } from "@/shared/format";
import { Button } from "@/shared/kit/Button";
import { useView } from "@/shared/view";
import { ProposalList } from "../Proposals";
import type { Year } from "./YearEnd";

/** Into the next year: what was off by more than a tenth, and yearly bills that nothing stands behind. */
export function NextYear({ data }: { data: Year }) {
  const { openSlip } = useView();
  if (data.off.length === 0 && data.unprepared.length === 0) return null;
  return (
    <section aria-label="Into the next year" className="mt-6">
      <h2 className="mb-1 text-xl">Into the next year</h2>
      {data.off.length > 0 && (
        <>
          <h3 className="text-lg">Off by more than a tenth</h3>
          <ProposalList proposals={data.off} />
        </>
      )}
      {data.unprepared.length > 0 && (
        <>
          <h3 className="mt-3 text-lg">Once a year, and nothing set aside for it</h3>
          <ul>
            {data.unprepared.map((bill) => (
              <li key={bill.flow} className="flex flex-wrap items-center gap-x-3 border-b border-rule py-1">
                <button
                  type="button"
                  className="min-w-52 text-left font-semibold hover:underline"
                  onClick={() => openSlip("flow", bill.flow)}
                >
                  {bill.name}
                </button>
                <span>
                  {money(bill.amount, bill.currency)} on {dayText(bill.date, data.today)}
                </span>
                <Button look="link" onClick={() => openSlip("aside", null, bill.flow)}>
                  Set aside for it
                </Button>
              </li>
            ))}
          </ul>
        </>
      )}
    </section>
  );
}
