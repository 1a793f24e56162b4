import { useMutation, useQueryClient } from "@tanstack/react-query";
import { answer, api, type Schemas } from "@/shared/api/client";
import { Button } from "@/shared/kit/Button";
import { useToast } from "@/shared/kit/Toast";

/** The file is not what was opened any more: keep what is open, put it back, or open what is there now. */
export function FileFault({ fault, isGone }: { fault: string; isGone: boolean }) {
  const client = useQueryClient();
  const toast = useToast();
  const act = useMutation({
    mutationFn: (what: "keep" | "reopen" | "put-back") => {
      if (what === "keep") return answer<unknown>(api.POST("/api/backups"));
      if (what === "put-back") return answer<unknown>(api.POST("/api/file/put-back"));
      return answer<Schemas["FileAnswer"]>(api.POST("/api/file/reopen"));
    },
    onSuccess: (_, what) => {
      toast(DONE[what]);
      void client.resetQueries();
    },
  });
  return (
    <section role="alert" aria-label="The file" className="my-3 border-l-4 border-rust pl-3">
      <p className="font-semibold text-rust">{fault}</p>
      {act.error && <p className="text-rust">{act.error.message}</p>}
      <p className="mt-2 flex flex-wrap gap-2">
        <Button look="main" onClick={() => act.mutate("keep")}>
          Keep what is open as a backup
        </Button>
        {isGone ? (
          <Button onClick={() => act.mutate("put-back")}>Put it back where it was</Button>
        ) : (
          <Button onClick={() => act.mutate("reopen")}>Open the file that is there now</Button>
        )}
      </p>
    </section>
  );
}

const DONE = {
  keep: "Kept as a backup.",
  reopen: "The file that is there now is open.",
  "put-back": "It is back where it was.",
} as const;
