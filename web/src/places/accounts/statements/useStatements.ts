import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { answer, api, type Schemas } from "@/shared/api/client";
import { useAct, useRefresh } from "@/shared/api/hooks";
import { useToast } from "@/shared/kit/Toast";

export type Statement = Schemas["StatementRow"];
export type Line = Schemas["StatementLine"];
export type Done = Schemas["StatementDone"];
type Page = Schemas["StatementPage"];
export type Asked = Schemas["StatementRequest"];

/** The statements of an account, the newest first. */
export const useStatements = (account: string) =>
  useQuery({
    queryKey: ["statements", account],
    queryFn: () => answer<Statement[]>(api.GET("/api/statements", { params: { query: { account } } })),
  });

/** What the next statement will most likely be. */
export const useNextStatement = (id: string) =>
  useQuery({
    queryKey: ["next-statement", id],
    queryFn: () =>
      answer<Schemas["ProposedStatement"]>(api.GET("/api/accounts/{id}/next-statement", { params: { path: { id } } })),
  });

/** One statement with all that can be ticked on it. */
export const useStatement = (id: string) =>
  useQuery({
    queryKey: ["statement", id],
    retry: false,
    queryFn: () => answer<Page>(api.GET("/api/statements/{id}", { params: { path: { id } } })),
  });

/** Tick entries, or tick them no more: without a word, since the page itself shows it. */
export function useTick(id: string) {
  const client = useQueryClient();
  const refresh = useRefresh();
  const toast = useToast();
  return useMutation({
    mutationFn: (body: { entries: string[]; on: boolean }) =>
      answer<Done>(api.POST("/api/statements/{id}/tick", { params: { path: { id } }, body })),
    onSuccess: async () => {
      await client.invalidateQueries({ queryKey: ["statement", id] });
      void refresh();
    },
    onError: (error) => toast(error.message),
  });
}

const path = (id: string) => ({ params: { path: { id } } });

export const useFinish = (id: string) =>
  useAct((adjust: boolean) => answer<Done>(api.POST("/api/statements/{id}/finish", { ...path(id), body: { adjust } })));

export const useOpenAgain = (id: string) => useAct(() => answer<Done>(api.POST("/api/statements/{id}/open", path(id))));

export const useDelete = (id: string) =>
  useAct(() => answer<Schemas["ChangeAnswer"]>(api.DELETE("/api/statements/{id}", path(id))));
