import { useMutation, useQueryClient } from "@tanstack/react-query";
import { api, type Schemas, server } from "@/shared/api/client";
import { Button } from "@/shared/kit/Button";
import { useToast } from "@/shared/kit/Toast";
import { DifferenceLine } from "./DifferenceLine";

type What = "keep" | "reopen" | "put-back" | "accept";

/** The file is not what was opened any more, or is damaged: what can be done. */
export function FileFault({ file }: { file: Schemas["FileAnswer"] }) {
  const act = useFileActs();
  return (
    <section role="alert" aria-label="The file" className="my-3 border-l-4 border-rust pl-3">
      <p className="font-semibold text-rust">{file.fault}</p>
      {act.error && <p className="text-rust">{act.error.message}</p>}
      {file.is_lost && !file.is_gone && <WhatIsThere />}
      <p className="mt-2 flex flex-wrap gap-2">
        {file.is_lost ? (
          <>
            <Button look="main" onClick={() => act.mutate("put-back")}>
              Put back what was open
            </Button>
            <Button onClick={() => act.mutate("keep")}>Keep what was open as a backup</Button>
            {!file.is_gone && <Button onClick={() => act.mutate("reopen")}>Open the file that is there now</Button>}
          </>
        ) : file.is_gone ? (
          <span>
            Plug in its disk, or put its folder back: then all goes on from here. Until then, take the whole plan out
            below.
          </span>
        ) : (
          <Button onClick={() => act.mutate("accept")}>It is right as it is</Button>
        )}
      </p>
    </section>
  );
}

/** What the file that lies there has other than what was open. */
function WhatIsThere() {
  const { data } = server.useQuery("get", "/api/file/there");
  if (!data) return null;
  if (data.problem) return <p className="mt-1">What lies there cannot be opened: {data.problem}</p>;
  const name = data.household || "without a name";
  return (
    <>
      <p className="mt-1">
        {data.is_same_household
          ? "What lies there is this household too, with another history: it was changed in two places."
          : `What lies there is another household, ${name}.`}{" "}
        {data.differences.length > 0 ? "Held against what was open, it has:" : "It holds the same as what was open."}
      </p>
      <ul>
        {data.differences.map((oneDifference) => (
          <DifferenceLine key={oneDifference.kind} difference={oneDifference} />
        ))}
      </ul>
    </>
  );
}

function useFileActs() {
  const client = useQueryClient();
  const toast = useToast();
  return useMutation({
    mutationFn: async (what: What) => {
      if (what === "keep") await api.post("/api/backups");
      else if (what === "reopen") await api.post("/api/file/reopen");
      else if (what === "accept") await api.post("/api/file/accept");
      else return (await api.post("/api/file/put-back")).moved_to;
      return null;
    },
    onSuccess: (movedTo, what) => {
      toast(movedTo ? `${DONE[what]} What lay there is now ${movedTo}.` : DONE[what]);
      void client.resetQueries();
    },
  });
}

const DONE: Record<What, string> = {
  keep: "Kept as a backup.",
  reopen: "The file that is there now is open.",
  "put-back": "It is back where it was.",
  accept: "It counts as right from now on.",
};
