import { replaceEqualDeep, useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { api, type ChangeRequest, type Schemas, server } from "@/shared/api/client";
import { useRefresh, useShownTideline } from "@/shared/api/hooks";
import { changesAsked } from "@/shared/api/queries";
import { useToast } from "@/shared/kit/Toast";

export type Due = Schemas["DueModel"];
export type SettleLine = Schemas["SettleLine"];
type Done = Schemas["DoneAnswer"];
type Shown = ReturnType<ReturnType<typeof useShownTideline>>;

export const keyOf = (line: { flow: string; nominal: string }) => `${line.flow}/${line.nominal}`;

type Answer = Schemas["SettleAnswer"];

/** What was read, with the lines that are as before as the same objects, wherever they stand: only others are drawn. */
export function withLinesAsBefore(before: unknown, read: unknown): unknown {
  const answer = read as Answer;
  const lines = new Map((before as Answer | undefined)?.due.map((line) => [keyOf(line), line]));
  return { ...answer, due: answer.due.map((line) => replaceEqualDeep(lines.get(keyOf(line)), line)) };
}

const DUE = server.queryOptions(
  "get",
  "/api/settle",
  {},
  // What was read a moment ago is shown as it is; every change has it read afresh.
  { staleTime: 5000, structuralSharing: withLinesAsBefore },
);

export const useDue = () => useQuery(DUE);

/** How many are due today or past due. */
export function useDueCount(isWanted: boolean): number {
  const due = useQuery({ ...DUE, enabled: isWanted }).data?.due;
  return due?.filter(({ status }) => status === "past_due" || status === "today").length ?? 0;
}

/** Work lines off; they leave the list at once, and come back if the app refuses. */
export function useSettleLines() {
  const client = useQueryClient();
  const refresh = useRefresh();
  const shownTideline = useShownTideline();
  const toast = useToast();
  const settle = useMutation({
    mutationFn: ({ asked }: Asked) => asked,
    onMutate: ({ lines, whenDone }) => {
      const place = changesAsked();
      // A form stays, with what was typed, until the app has taken it.
      if (whenDone) return place;
      const gone = new Set(lines.filter((line) => !line.part && line.do !== "put_off").map(keyOf));
      client.setQueryData<Answer>(
        DUE.queryKey,
        (before) => before && { ...before, due: before.due.filter((line) => !gone.has(keyOf(line))) },
      );
      return place;
    },
    onSuccess: (done, { whenDone }) => {
      whenDone?.();
      toast(done.done ?? "Settled");
    },
    onSettled: (done, _, { shown }, place) => {
      const line = place === changesAsked() ? done?.tideline : undefined;
      void refresh(shown && line ? { key: shown.key, line } : undefined);
    },
  });
  return {
    error: settle.error,
    // The app is asked before the list is drawn anew, so that both go on at once.
    mutate: (lines: SettleLine[], whenDone?: () => void) => {
      const shown = shownTideline();
      settle.mutate({ lines, shown, whenDone, asked: ask(lines, shown) });
    },
  };
}

interface Asked {
  lines: SettleLine[];
  shown: Shown;
  whenDone: (() => void) | undefined;
  asked: Promise<Done>;
}

const ask = (lines: SettleLine[], shown: Shown) =>
  api.post("/api/settle", { body: { lines, tideline: shown?.request } });

/** Take back what was settled or left out: it is expected again. */
export function useTakeBack() {
  const refresh = useRefresh();
  const toast = useToast();
  return useMutation({
    mutationFn: (change: ChangeRequest) => api.post("/api/changes", { body: { changes: [change] } }),
    onSuccess: () => toast("Taken back"),
    onError: (error) => toast(error.message),
    onSettled: () => refresh(),
  });
}
