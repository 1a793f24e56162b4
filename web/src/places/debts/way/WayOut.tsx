import { useEffect, useState } from "react";
import { readDraft, removeDraft, writeDraft } from "@/shared/drafts";
import { BackLink } from "@/shared/kit/BackLink";
import { Button } from "@/shared/kit/Button";
import { useView } from "@/shared/view";
import { Consolidation } from "./Consolidation";
import { AdoptWay } from "./plan/AdoptWay";
import { DebtOrder } from "./plan/DebtOrder";
import { Orders } from "./plan/Orders";
import { WayControls } from "./plan/WayControls";
import { WayMonths } from "./plan/WayMonths";
import { WayPicture } from "./plan/WayPicture";
import { WayProgress } from "./WayProgress";
import { WayQuestions } from "./WayQuestions";
import { WayWhole } from "./WayWhole";
import { type Asked, asAsked, PLAIN_ASKED, readAsked, usePicture, useProgress, useWay } from "./wayOut";

/** The way out of debt: which first, how long, what it saves, and whether the household can spare it. */
export function WayOut() {
  const record = useProgress().data;
  const address = new URLSearchParams(window.location.search).get("way");
  if (!record) return null;
  // One begins with the plan that was adopted, else with what is paid now.
  const plain = record.progress?.asked ?? { ...PLAIN_ASKED, extra_monthly: record.paid_now };
  const begin = unlessTriedSince(address, readDraft(DRAFT)) ?? readAsked(address) ?? plain;
  return <WayOutOf key={record.progress?.on ?? ""} begin={begin} plain={plain} today={record.today} record={record} />;
}

const DRAFT = "way-out";

interface Props {
  begin: Asked;
  plain: Asked;
  today: string;
  record: NonNullable<ReturnType<typeof useProgress>["data"]>;
}

function WayOutOf({ begin, plain, today, record }: Props) {
  const [asked, setAsked] = useState(begin);
  const set = (part: Partial<Asked>) => setAsked((before) => ({ ...before, ...part }));
  const { data: picture, error } = usePicture(asked);
  const adopted = record.progress?.asked;
  const planned = usePicture(adopted ?? asked).data;
  const answered = useWay(asked).data;
  useKept(asked, begin, plain);
  return (
    <div className="mx-auto max-w-6xl px-4 py-3 md:px-6">
      <BackLink to="/debts" name="Debts" />
      <div className="flex flex-wrap items-baseline justify-between gap-x-4">
        <h1 className="text-xl">The way out of debt</h1>
        {!isSame(asked, plain) && (
          <Button look="link" onClick={() => setAsked(plain)}>
            {record.progress ? "Back to the plan as adopted" : "Back to what is paid now"}
          </Button>
        )}
      </div>
      {error && <p className="mt-2 border-l-2 border-rust pl-3 text-rust">{error.message}</p>}
      {record.progress && <WayProgress progress={record.progress} today={today} />}
      {picture?.debts.length === 0 && (
        <p className="py-4 text-lg">
          Nothing is owed that could be paid off{picture.others.length > 0 ? " with the debts that are chosen" : ""}.
        </p>
      )}
      {picture && picture.debts.length + picture.others.length > 0 && (
        <>
          {picture.debts.length > 0 && <WayWhole picture={picture} />}
          <div className="mt-2 grid gap-x-8 gap-y-4 border-t border-rule @4xl:grid-cols-[minmax(0,26rem)_minmax(0,1fr)]">
            <div>
              <WayControls picture={picture} asked={asked} onChange={set} />
              <DebtOrder picture={picture} chosen={asked.debts} onChange={set} />
            </div>
            {picture.debts.length > 0 && (
              // On a phone the picture comes before what moves it, and taking it up after.
              <div className="contents @4xl:sticky @4xl:top-0 @4xl:block @4xl:self-start">
                <div className="order-first">
                  <WayPicture
                    picture={picture}
                    planned={adopted && !isSame(adopted, asked) ? planned : undefined}
                    sums={asked.one_time}
                    onChange={set}
                  />
                </div>
                <div className="order-last">
                  <AdoptWay
                    asked={asked}
                    start={picture.start}
                    isAdopted={record.progress !== null}
                    onAdopted={() => removeDraft(DRAFT)}
                  />
                </div>
              </div>
            )}
          </div>
        </>
      )}
      {picture && answered && answered.way.debts.length > 0 && (
        <>
          <Orders way={answered.way} asked={answered.asked} onChange={set} />
          <WayQuestions way={answered.way} asked={answered.asked} />
          <Consolidation way={answered.way} asked={answered.asked} />
          <WayMonths way={answered.way} asked={answered.asked} />
        </>
      )}
    </div>
  );
}

const isSame = (one: Asked, other: Asked): boolean => JSON.stringify(one) === JSON.stringify(other);

/** What is tried stays as a draft at once, and in the address, to be bookmarked, once the hand rests. */
function useKept(asked: Asked, begin: Asked, plain: Asked) {
  const { set } = useView();
  useEffect(() => {
    const address = new URLSearchParams(window.location.search).get("way");
    if (asked === begin && isSame(asked, readAsked(address) ?? plain)) return;
    const way = isSame(asked, plain) ? null : JSON.stringify(asked);
    keepTried(asked, address);
    const later = setTimeout(() => {
      set({ way });
      if (way === null) removeDraft(DRAFT);
      else keepTried(asked, way);
    }, 600);
    return () => clearTimeout(later);
  }, [asked, begin, plain, set]);
}

// Whoever reloads or leaves before the hand has rested finds an address that is one step behind. So the draft says which
// address it was tried over: there it is the newer one; any other address, a bookmark say, means what it says.
const keepTried = (asked: Asked, over: string | null) => writeDraft(DRAFT, { asked, over });

function unlessTriedSince(address: string | null, kept: unknown): Asked | null {
  if (typeof kept !== "object" || kept === null || !("asked" in kept && "over" in kept)) return null;
  return address === null || kept.over === address ? asAsked(kept.asked) : null;
}
