import { Button } from "@/shared/kit/Button";
import { useView } from "@/shared/view";

/** From a bill to putting its money by, month by month. */
export function AsideLink({ flow }: { flow: string }) {
  const { openSlip } = useView();
  return (
    <Button look="link" className="self-start" onClick={() => openSlip("aside", null, flow)}>
      Set its money aside month by month…
    </Button>
  );
}
