import { keepPreviousData, useMutation } from "@tanstack/react-query";
import { api, Refused, type Schemas, server } from "@/shared/api/client";
import { useRefresh } from "@/shared/api/hooks";
import { useToast } from "@/shared/kit/Toast";

export type Look = Schemas["BankLookAnswer"];
export type Statement = Schemas["BankStatementModel"];
export type Line = Schemas["BankLineModel"];
export type ImportRequest = Schemas["ImportRequest"];
export type Columns = Record<string, string | number | null>;

export interface Asked {
  file: File;
  account: string | null;
  /** By the place of a statement, the account that was chosen for it. */
  accounts: Record<string, string>;
  columns: Columns | null;
}

/** Look at a bank's file; nothing is changed. */
export function useLook() {
  return useMutation({
    mutationFn: ({ file, account, accounts, columns }: Asked) => {
      const form = new FormData();
      form.append("file", file);
      if (account) form.append("account", account);
      if (Object.keys(accounts).length > 0) form.append("accounts", JSON.stringify(accounts));
      if (columns) form.append("columns", JSON.stringify(columns));
      return api.post("/api/import/look", { body: form as never, bodySerializer: () => form });
    },
  });
}

/** Another look at the same lines, for the accounts that they are said to be of. */
export function useOwners(onLook: (look: Look) => void) {
  return useMutation({
    mutationFn: ({ look, accounts }: { look: Look; accounts: Record<string, string> }) =>
      api.post("/api/import/look/{look}/accounts", { params: { path: { look: look.look } }, body: { accounts } }),
    onSuccess: onLook,
  });
}

/** What taking lines in as they are chosen would do. */
export const useEffectOf = (request: ImportRequest | null) =>
  server.useQuery(
    "post",
    "/api/import/preview",
    { body: request as ImportRequest },
    { enabled: request !== null, retry: false, placeholderData: keepPreviousData },
  );

/** Take lines in; where the plan was changed meanwhile, `onChanged` is given another look. */
export function useTakeIn(onDone: () => void, onChanged: (look: Look) => void) {
  const refresh = useRefresh();
  const toast = useToast();
  return useMutation({
    mutationFn: (body: ImportRequest) => api.post("/api/import", { body }),
    onSuccess: (done) => {
      const waiting = done.waiting === 1 ? "1 line waits" : `${done.waiting} lines wait`;
      toast(done.waiting > 0 ? `${done.done}. ${waiting} in Settle.` : (done.done ?? "Done"));
      onDone();
      void refresh();
    },
    onError: (error) => {
      // The plan was changed since the look: another look comes with the refusal.
      const { look } = (error instanceof Refused ? error.body : {}) as Partial<Schemas["BankLinesChanged"]>;
      if (look) onChanged(look);
    },
  });
}
