import { useState } from "react";
import type { Schemas } from "@/shared/api/client";
import { money } from "@/shared/format";
import { Button } from "@/shared/kit/Button";

const AT_FIRST = 10;

/** With whom the money was spent, the most first. */
export function Payees({ data }: { data: Schemas["ReviewAnswer"] }) {
  const [isWhole, setIsWhole] = useState(false);
  const spent = data.payees.filter((each) => each.spent !== 0);
  if (spent.length === 0) return null;
  return (
    <section aria-label="With whom" className="mt-6">
      <h2 className="mb-1 text-lg">With whom</h2>
      <ul className="max-w-2xl">
        {(isWhole ? spent : spent.slice(0, AT_FIRST)).map((each) => (
          <li key={each.payee} className="flex justify-between gap-3 border-b border-rule py-1">
            <span className="min-w-0">
              {each.payee || "No payee"}
              <span className="ml-2 text-sm text-pencil">
                {each.entries === 1 ? "once" : `${each.entries} entries`}
              </span>
            </span>
            <span className="whitespace-nowrap">{money(each.spent, data.currency)}</span>
          </li>
        ))}
      </ul>
      {spent.length > AT_FIRST && !isWhole && (
        <Button look="link" onClick={() => setIsWhole(true)}>
          All {spent.length} payees
        </Button>
      )}
    </section>
  );
}
