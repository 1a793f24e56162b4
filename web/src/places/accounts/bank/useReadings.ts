import { keepPreviousData } from "@tanstack/react-query";
import { api, type ChangeRequest, type Schemas, server } from "@/shared/api/client";
import { useAct } from "@/shared/api/hooks";

export type ReadingCheck = Schemas["ReadingCheck"];
export type ReadingRow = Schemas["ReadingRow"];
export type Asked = Schemas["ReadingRequest"];

/** The true balances that are kept, of one account or of all, the newest of each first. */
export const useReadings = (account?: string, isAsked = true) =>
  server.useQuery(
    "get",
    "/api/readings",
    { params: { query: account === undefined ? {} : { account } } },
    { enabled: isAsked },
  );

/** What the bank says beside the books, once it is typed. */
export const useReadingCheck = (asked: Asked | null) =>
  server.useQuery(
    "post",
    "/api/readings/check",
    { body: asked as Asked },
    { enabled: asked !== null, retry: false, placeholderData: keepPreviousData },
  );

/** Keep a true balance, with what explains it. */
export const useKeepReading = () =>
  useAct((reading: Asked & { changes: ChangeRequest[] }) => api.post("/api/readings", { body: reading }));

/** Take a true balance away. */
export const useForgetReading = () =>
  useAct(({ account, date }: { account: string; date: string }) =>
    api.delete("/api/readings", { params: { query: { account, date } } }),
  );
