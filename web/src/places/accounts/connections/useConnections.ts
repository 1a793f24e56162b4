import { useMutation, useQuery } from "@tanstack/react-query";
import { answer, api, Refused, type Schemas } from "@/shared/api/client";
import { useRefresh } from "@/shared/api/hooks";

export type Connection = Schemas["ConnectionRow"];
export type Notice = Schemas["NoticeRow"];

export const KIND_NAMES: Record<Connection["kind"], string> = {
  bank: "A bank",
  mailbox: "A mailbox",
  rates: "Exchange rates",
};

/** The services that are asked for what is new. */
export const useConnections = () =>
  useQuery({
    queryKey: ["connections"],
    queryFn: () => answer<Connection[]>(api.GET("/api/connections")),
  });

/** What there is to try in the demo. */
export const useDemo = () =>
  useQuery({ queryKey: ["demo"], queryFn: () => answer<Schemas["DemoAnswer"]>(api.GET("/api/demo")) });

/** The messages of a mailbox. */
export const useNotices = (id: string) =>
  useQuery({
    queryKey: ["notices", id],
    retry: false,
    queryFn: () =>
      answer<Schemas["NoticesAnswer"]>(api.GET("/api/connections/{id}/notices", { params: { path: { id } } })),
  });

/** Something is asked or changed outside of the plan; what is shown is read again, also where it is refused. */
export function useAsking<Answer, Said>(act: (said: Said) => Promise<Answer>, onDone?: (answer: Answer) => void) {
  const refresh = useRefresh();
  return useMutation({ mutationFn: act, onSuccess: onDone, onSettled: () => void refresh() });
}

/** What is wrong with a field, by its name. */
export const problemAt = (error: Error | null, field: string) =>
  error instanceof Refused ? error.details.find(({ loc }) => loc[1] === field)?.msg : undefined;
