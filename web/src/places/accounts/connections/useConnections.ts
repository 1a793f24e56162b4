import { useMutation } from "@tanstack/react-query";
import { Refused, type Schemas, server } from "@/shared/api/client";
import { useRefresh } from "@/shared/api/hooks";

export type Connection = Schemas["ConnectionRow"];
export type Notice = Schemas["NoticeRow"];

export const KIND_NAMES: Record<Connection["kind"], string> = {
  bank: "A bank",
  mailbox: "A mailbox",
  rates: "Exchange rates",
};

/** The services that are asked for what is new. */
export const useConnections = () => server.useQuery("get", "/api/connections");

/** What there is to try in the demo. */
export const useDemo = () => server.useQuery("get", "/api/demo");

/** The messages of a mailbox. */
export const useNotices = (id: string) =>
  server.useQuery("get", "/api/connections/{id}/notices", { params: { path: { id } } }, { retry: false });

/** Something is asked or changed outside of the plan; what is shown is read again, also where it is refused. */
export function useAsking<Answer, Said>(act: (said: Said) => Promise<Answer>, onDone?: (answer: Answer) => void) {
  const refresh = useRefresh();
  return useMutation({ mutationFn: act, onSuccess: onDone, onSettled: () => void refresh() });
}

/** What is wrong with a field, by its name. */
export const problemAt = (error: Error | null, field: string) =>
  error instanceof Refused ? error.details.find(({ loc }) => loc[1] === field)?.msg : undefined;
