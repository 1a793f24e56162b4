import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { answer, api, type ChangeRequest, type Schemas } from "@/shared/api/client";
import { useRefresh } from "@/shared/api/hooks";
import { useToast } from "@/shared/kit/Toast";

export type Due = Schemas["DueModel"];
export type SettleLine = Schemas["SettleLine"];
type History = Schemas["HistoryAnswer"];

export const keyOf = (line: { flow: string; nominal: string }) => `${line.flow}/${line.nominal}`;

export function useDue() {
  return useQuery({ queryKey: ["settle"], queryFn: () => answer<Schemas["SettleAnswer"]>(api.GET("/api/settle")) });
}

/** Work lines off; they leave the list at once, and come back if the app refuses. */
export function useSettleLines() {
  const client = useQueryClient();
  const refresh = useRefresh();
  const toast = useToast();
  return useMutation({
    mutationFn: (lines: SettleLine[]) => answer<History>(api.POST("/api/settle", { body: { lines } })),
    onMutate: (lines) => {
      const gone = new Set(lines.filter((line) => !line.part && line.do !== "put_off").map(keyOf));
      client.setQueryData<Schemas["SettleAnswer"]>(
        ["settle"],
        (before) => before && { ...before, due: before.due.filter((line) => !gone.has(keyOf(line))) },
      );
    },
    onSuccess: (history) => toast(history.done ?? "Settled"),
    onSettled: refresh,
  });
}

/** Take back what was settled: the entry goes, and its occurrence is expected again. */
export function useTakeBack() {
  const refresh = useRefresh();
  const toast = useToast();
  return useMutation({
    mutationFn: (entry: string) => {
      const changes: ChangeRequest[] = [{ op: "remove", kind: "entry", id: entry }];
      return answer<History>(api.POST("/api/changes", { body: { changes } }));
    },
    onSuccess: () => toast("Taken back"),
    onSettled: refresh,
  });
}
