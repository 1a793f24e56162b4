import { lazy, Suspense, useCallback, useEffect, useState } from "react";
import { DraftProvider } from "@/shared/slip/draft";
import { useView } from "@/shared/view";

const load = () => import("./AnySlip");
const AnySlip = lazy(async () => ({ default: (await load()).AnySlip }));

/** The slip that the address names, if any. Slips are fetched once the page stands, before anybody opens one. */
export function OpenSlip() {
  const { slip, openSlip } = useView();
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
  if (!slip) return null;
  const name = `${slip.kind}:${slip.id ?? "new"}:${slip.start}`;
  return (
    <Suspense>
      <DraftProvider key={`${name} ${round}`} name={name} onAgain={onAgain}>
        <AnySlip slip={slip} />
      </DraftProvider>
    </Suspense>
  );
}
