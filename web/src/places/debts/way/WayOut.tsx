import { useEffect, useState } from "react";
import { BackLink } from "@/shared/kit/BackLink";
import { useView } from "@/shared/view";
import { AdoptWay } from "./AdoptWay";
import { Consolidation } from "./Consolidation";
import { DebtOrder } from "./DebtOrder";
import { Orders } from "./Orders";
import { WayControls } from "./WayControls";
import { WayMonths } from "./WayMonths";
import { WayPicture } from "./WayPicture";
import { WayProgress } from "./WayProgress";
import { WayQuestions } from "./WayQuestions";
import { WayWhole } from "./WayWhole";
import { type Asked, PLAIN_ASKED, readAsked, usePicture, useProgress, useWay } from "./wayOut";

/** The way out of debt: which first, how long, what it saves, and whether the household can spare it. */
export function WayOut() {
  const record = useProgress().data;
  const address = new URLSearchParams(window.location.search).get("way");
  if (!record) return null;
  // The plan that was adopted is what one begins with, unless the address says otherwise.
  const begin = readAsked(address) ?? record.progress?.asked ?? PLAIN_ASKED;
  return <WayOutOf key={record.progress?.on ?? ""} begin={begin} today={record.today} record={record} />;
}

interface Props {
  begin: Asked;
  today: string;
  record: NonNullable<ReturnType<typeof useProgress>["data"]>;
}

function WayOutOf({ begin, today, record }: Props) {
  const [asked, setAsked] = useState(begin);
  const set = (part: Partial<Asked>) => setAsked((held) => ({ ...held, ...part }));
  const { data: picture, error } = usePicture(asked);
  const adopted = record.progress?.asked;
  const planned = usePicture(adopted ?? asked).data;
  const told = useWay(asked).data;
  useKeptInAddress(asked, begin);
  return (
    <div className="mx-auto max-w-6xl px-4 py-3 md:px-6">
      <BackLink to="/debts" name="Debts" />
      <h1 className="text-xl">The way out of debt</h1>
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
              <div className="@4xl:sticky @4xl:top-0 @4xl:self-start">
                <WayPicture
                  picture={picture}
                  planned={adopted && !isSame(adopted, asked) ? planned : undefined}
                  sums={asked.one_time}
                  onChange={set}
                />
                <AdoptWay asked={asked} start={picture.start} isAdopted={record.progress !== null} />
              </div>
            )}
          </div>
        </>
      )}
      {told && told.way.debts.length > 0 && (
        <>
          <Orders way={told.way} asked={told.asked} onChange={set} />
          <WayQuestions way={told.way} asked={told.asked} />
          <Consolidation way={told.way} asked={told.asked} />
          <WayMonths way={told.way} asked={told.asked} />
        </>
      )}
    </div>
  );
}

const isSame = (one: Asked, other: Asked): boolean => JSON.stringify(one) === JSON.stringify(other);

/** What is asked stays in the address, so that it can be bookmarked; not with every move of the slider. */
function useKeptInAddress(asked: Asked, begin: Asked) {
  const { set } = useView();
  useEffect(() => {
    if (asked === begin) return;
    const later = setTimeout(() => set({ way: JSON.stringify(asked) }), 600);
    return () => clearTimeout(later);
  }, [asked, begin, set]);
}
