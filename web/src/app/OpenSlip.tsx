import { lazy, Suspense, useCallback, useEffect, useState } from "react";
import { useHousehold } from "@/shared/api/hooks";
import { DraftProvider } from "@/shared/slip/draft";
import { type SlipAddress, useView } from "@/shared/view";

const load = () => import("./AnySlip");
const AnySlip = lazy(async () => ({ default: (await load()).AnySlip }));

const NEED_AN_ACCOUNT = new Set<SlipAddress["kind"]>(["flow", "entry", "allowance", "limits", "aside"]);

/** The slip that the address names, if any. Slips are fetched once the page stands, before anybody opens one. */
export function OpenSlip() {
  const { slip, openSlip, set } = useView();
  useEffect(() => {
    const later = setTimeout(() => void load(), 800);
    return () => clearTimeout(later);
  }, []);
  const [round, setRound] = useState(0);
  const kind = slip?.kind;
  const onAgain = useCallback(
    (start?: string) => {
      setRound((before) => before + 1);
      if (start !== undefined && kind) openSlip(kind, null, start);
    },
    [kind, openSlip],
  );
  // Before there is an account there is nothing to plan with: whoever asks for more begins there.
  const { data: household, refetch } = useHousehold();
  const mayPay = household?.beginnings.may_pay ?? true;
  const isTooEarly = slip !== null && slip.id === null && NEED_AN_ACCOUNT.has(slip.kind) && !mayPay;
  useEffect(() => {
    if (!isTooEarly) return undefined;
    // An account that was made just now may not have been read yet: the app is asked before one is led away.
    let isGone = false;
    void refetch().then(({ data }) => {
      if (!isGone && data && !data.beginnings.may_pay) set({ slip: "account:new" });
    });
    return () => {
      isGone = true;
    };
  }, [isTooEarly, set, refetch]);
  if (!slip || isTooEarly) return null;
  const name = `${slip.kind}:${slip.id ?? "new"}:${slip.start}`;
  return (
    <Suspense>
      <DraftProvider key={`${name} ${round}`} name={name} onAgain={onAgain}>
        <AnySlip slip={slip} />
      </DraftProvider>
    </Suspense>
  );
}
