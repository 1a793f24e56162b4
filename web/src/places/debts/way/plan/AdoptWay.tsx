import { useMutation } from "@tanstack/react-query";
import { useState } from "react";
import type { Asked } from "@/places/debts/way/wayOut";
import { api, server } from "@/shared/api/client";
import { useRefresh } from "@/shared/api/hooks";
import { dayText, money, monthOf } from "@/shared/format";
import { Button } from "@/shared/kit/Button";
import { useToast } from "@/shared/kit/Toast";

interface Props {
  asked: Asked;
  start: string;
  isAdopted: boolean;
  onAdopted: () => void;
}

/** Make the plan the expected one, after a look at what that does. */
export function AdoptWay({ asked, start, isAdopted, onAdopted }: Props) {
  const [isOpen, setOpen] = useState(false);
  const refresh = useRefresh();
  const toast = useToast();
  const adopt = useMutation({
    mutationFn: () => api.post("/api/payoff/adopt", { body: asked }),
    onSuccess: () => {
      setOpen(false);
      onAdopted();
      toast("This is the plan now. Undo takes it back.");
      void refresh();
      document.getElementById("page")?.scrollTo(0, 0);
    },
    onError: (error) => toast(error.message),
  });
  if (!isOpen)
    return (
      <Button look="main" className="mt-4" onClick={() => setOpen(true)}>
        {isAdopted ? "Make this the plan instead" : "Make this the plan"}
      </Button>
    );
  return (
    <section aria-label="Make this the plan" className="mt-4 border-l-2 border-copper pl-4">
      <p>
        From {monthOf(start)} on, these payments are what the forecast expects: extras of the loans, and what is paid of
        each card’s statement.
      </p>
      <Effect asked={asked} />
      <div className="mt-2 flex gap-2">
        <Button look="main" disabled={adopt.isPending} onClick={() => adopt.mutate()}>
          Make this the plan
        </Button>
        <Button onClick={() => setOpen(false)}>Not now</Button>
      </div>
    </section>
  );
}

/** The lowest point before and after, and how far the months' interest is from the days'. */
function Effect({ asked }: { asked: Asked }) {
  const { data, error } = server.useQuery("post", "/api/payoff/effect", { body: asked }, { retry: false });
  if (error) return <p className="text-rust">{error.message}</p>;
  if (!data) return <p className="text-pencil">Looking at what it does…</p>;
  const { lowest_before: before, lowest_after: after, currency } = data;
  const apart = data.interest_by_day - data.interest_planned;
  return (
    <div data-testid="effect">
      {before && after && (
        <p>
          Lowest on {data.payer} in the coming year: {money(before.balance, currency)} on {dayText(before.date)} now,{" "}
          <strong className={after.headroom < 0 ? "text-rust" : ""}>{money(after.balance, currency)}</strong> on{" "}
          {dayText(after.date)} then
          {after.headroom < 0 && `: ${money(-after.headroom, currency)} below its floor`}.
        </p>
      )}
      {data.lowered.map((sentence) => (
        <p key={sentence} className="border-l-2 border-copper pl-2">
          {sentence}
        </p>
      ))}
      {apart !== 0 && (
        <p className="text-sm text-pencil">
          The plan counts interest by the month; by the day, with what else happens on these accounts, it is{" "}
          {money(Math.abs(apart), currency)} {apart > 0 ? "more" : "less"}.
        </p>
      )}
    </div>
  );
}
