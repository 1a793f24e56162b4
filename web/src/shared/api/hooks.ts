import {
  hashKey,
  keepPreviousData,
  type QueryKey,
  queryOptions,
  useMutation,
  useQuery,
  useQueryClient,
} from "@tanstack/react-query";
import { useToast } from "@/shared/kit/Toast";
import { useView } from "@/shared/view";
import { api, type ChangeRequest, isShutOut, Refused, server, type TidelineAnswer } from "./client";

export const HOUSEHOLD = server.queryOptions(
  "get",
  "/api/household",
  {},
  { retry: (count, error) => count < 1 && !isShutOut(error) },
);

export const useHousehold = () => useQuery(HOUSEHOLD);

export const useAccounts = () => server.useQuery("get", "/api/accounts");

/** The accounts of the address that there are, with commas; null where it names none. */
export function useChosenAccounts(): string | null {
  const known = useAccounts().data?.accounts;
  const named = useView().accounts;
  const chosen = known ? named.filter((id) => known.some(({ account }) => account.id === id)) : named;
  return chosen.join(",") || null;
}

/** The accounts that are offered in a form: all that are not closed, and those that it has already. */
export function useOffered(also: readonly (string | null | undefined)[] = []) {
  const rows = useAccounts().data?.accounts;
  return rows?.filter(({ account, is_closed }) => !is_closed || also.includes(account.id));
}

export const useFlows = () => server.useQuery("get", "/api/flows");

export const useEntryChoices = () => server.useQuery("get", "/api/entries/choices");

export const useHistory = () => server.useQuery("get", "/api/history");

export interface TidelineQuery {
  accounts: string[];
  from: string;
  until: string;
  /** Each account by itself, too. */
  each: boolean;
}

/** The tideline; with changes, also as it would be with them. Refusals of a draft are its `error`, not retried. */
export const tidelineOptions = (query: TidelineQuery | null, changes: ChangeRequest[]) =>
  queryOptions({
    queryKey: ["tideline", query, changes],
    enabled: query !== null,
    placeholderData: keepPreviousData,
    retry: false,
    queryFn: async ({ signal }) => {
      const body = { ...(query as TidelineQuery), changes, draft: true };
      const answered = await api.post("/api/tideline", { body, signal });
      if (answered.refused.length > 0) throw new Refused(answered.refused);
      return answered;
    },
  });

/** Save changes as one undoable step, of the plan or the what-if looked at; every view is then read afresh. */
export function useSave() {
  const refresh = useRefresh();
  return useMutation({
    mutationFn: (changes: ChangeRequest[]) => api.post("/api/changes", { body: { changes } }),
    // Saved is saved: nobody waits for the views to be read afresh.
    onSuccess: () => void refresh(),
  });
}

/** Do something that the app keeps, with a word on what was done; every view is then read afresh. */
export function useAct<Asked = undefined, Told extends { done?: string | null } = { done?: string | null }>(
  act: (asked: Asked) => Promise<Told>,
) {
  const refresh = useRefresh();
  const toast = useToast();
  return useMutation({
    mutationFn: act,
    onSuccess: (history) => {
      toast(history.done ?? "Done");
      void refresh();
    },
    onError: (error) => toast(error.message),
  });
}

/** Undo and redo, with a word on what was done. */
export function useUndo() {
  const refresh = useRefresh();
  const toast = useToast();
  const done = (history: { done?: string | null }) => {
    toast(history.done ?? "There is nothing to undo or redo.");
    void refresh();
  };
  const outcome = { onSuccess: done, onError: (error: Error) => toast(error.message) };
  const undo = useMutation({ mutationFn: () => api.post("/api/undo"), ...outcome });
  const redo = useMutation({ mutationFn: () => api.post("/api/redo"), ...outcome });
  return { undo: undo.mutate, redo: redo.mutate };
}

/** A tideline as it is after a change, with the key under which it is held. */
export interface FreshTideline {
  key: QueryKey;
  line: TidelineAnswer;
}

/** Read everything afresh after a change. What was asked for before it is dropped: its answer may be out of date. */
export function useRefresh() {
  const client = useQueryClient();
  return async (fresh?: FreshTideline) => {
    await client.cancelQueries();
    // The tideline first: it is what one looks at while something changes.
    if (fresh) {
      client.setQueryData(fresh.key, fresh.line);
      await drawn();
    } else await client.invalidateQueries({ queryKey: ["tideline"] });
    const isFresh = (query: { queryHash: string }) => query.queryHash === (fresh && hashKey(fresh.key));
    await client.invalidateQueries({
      predicate: (query) => (fresh ? !isFresh(query) : query.queryKey[0] !== "tideline"),
    });
  };
}

// So long a page that is not in sight, which is never drawn, is waited for.
const LONGEST_FRAME = 100;

/** Once what was put in is on the screen: the line is drawn before anything else is asked for. */
const drawn = () =>
  new Promise<void>((done) => {
    requestAnimationFrame(() => setTimeout(done));
    setTimeout(done, LONGEST_FRAME);
  });

/** The key and the request of the tideline on show, to be asked for together with a change. */
export function useShownTideline() {
  const client = useQueryClient();
  return () => {
    const shown = client.getQueryCache().findAll({ queryKey: ["tideline"], type: "active" });
    const plain = shown.find((query) => (query.queryKey[2] as ChangeRequest[]).length === 0);
    const query = plain?.queryKey[1] as TidelineQuery | null | undefined;
    return plain && query ? { key: plain.queryKey, request: { ...query, changes: [], draft: false } } : null;
  };
}
