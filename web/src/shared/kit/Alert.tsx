import { Refused } from "@/shared/api/client";
import { useView } from "@/shared/view";
import { Button } from "./Button";

/** Why a page cannot be shown, in a sentence; a missing exchange rate can be typed there and then. */
export function Alert({ error }: { error: Error | null | undefined }) {
  const { openSlip } = useView();
  if (!error) return null;
  const detail = error instanceof Refused ? error.details[0] : undefined;
  const missing = detail?.type === "no_rate" ? String(detail.loc.at(-1) ?? "") : "";
  return (
    <p role="alert" className="flex flex-wrap items-center gap-x-3 py-1">
      {error.message}
      {missing && (
        <Button className="!min-h-9" onClick={() => openSlip("rate", null, missing.replaceAll(":", "~"))}>
          Type the rate
        </Button>
      )}
    </p>
  );
}
