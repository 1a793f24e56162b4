import { useState } from "react";
import { api } from "@/shared/api/client";
import { useAct, useEntryChoices } from "@/shared/api/hooks";
import { Button } from "@/shared/kit/Button";

const REFUSED = "next-penny-own-categories";

/** The usual categories, offered until they are taken, refused, or the household has made its own. */
export function StarterSet({ words }: { words?: string }) {
  const isOffered = useEntryChoices().data?.starter_offered ?? false;
  const [isRefused, setRefused] = useState(() => localStorage.getItem(REFUSED) !== null);
  const take = useAct(() => api.post("/api/categories/starter"));
  if (!isOffered || isRefused) return null;
  return (
    <div className="flex flex-wrap items-center gap-x-3 gap-y-1 py-1">
      {words}
      <Button disabled={take.isPending} onClick={() => take.mutate(undefined)}>
        Begin with the usual ones
      </Button>
      <Button
        look="link"
        onClick={() => {
          localStorage.setItem(REFUSED, "yes");
          setRefused(true);
        }}
      >
        I make my own
      </Button>
    </div>
  );
}
