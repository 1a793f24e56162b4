import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { api, type Schemas, server } from "@/shared/api/client";
import { useAct, useRefresh } from "@/shared/api/hooks";
import { useToast } from "@/shared/kit/Toast";

export type Statement = Schemas["StatementRow"];
export type Line = Schemas["StatementLine"];
export type Done = Schemas["StatementDone"];
export type Asked = Schemas["StatementRequest"];

/** The statements of an account, the newest first. */
export const useStatements = (account: string) =>
  server.useQuery("get", "/api/statements", { params: { query: { account } } });

/** What the next statement will most likely be. */
export const useNextStatement = (id: string) =>
  server.useQuery("get", "/api/accounts/{id}/next-statement", { params: { path: { id } } });

const statement = (id: string) =>
  server.queryOptions("get", "/api/statements/{id}", { params: { path: { id } } }, { retry: false });

/** One statement with all that can be ticked on it. */
export const useStatement = (id: string) => useQuery(statement(id));

/** Tick entries, or tick them no more: without a word, since the page itself shows it. */
export function useTick(id: string) {
  const client = useQueryClient();
  const refresh = useRefresh();
  const toast = useToast();
  return useMutation({
    mutationFn: (body: { entries: string[]; on: boolean }) =>
      api.post("/api/statements/{id}/tick", { params: { path: { id } }, body }),
    onSuccess: async () => {
      await client.invalidateQueries({ queryKey: statement(id).queryKey });
      void refresh();
    },
    onError: (error) => toast(error.message),
  });
}

const path = (id: string) => ({ params: { path: { id } } });

export const useFinish = (id: string) =>
  useAct((adjust: boolean) => api.post("/api/statements/{id}/finish", { ...path(id), body: { adjust } }));

export const useOpenAgain = (id: string) => useAct(() => api.post("/api/statements/{id}/open", path(id)));

export const useDelete = (id: string) => useAct(() => api.delete("/api/statements/{id}", path(id)));
