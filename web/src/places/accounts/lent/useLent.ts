import { keepPreviousData } from "@tanstack/react-query";
import { api, type Schemas, server } from "@/shared/api/client";
import { useAct } from "@/shared/api/hooks";

export type LentRow = Schemas["LentRow"];
export type Asked = Schemas["ReceiveRequest"];

/** All money lent. */
export const useLent = () => server.useQuery("get", "/api/lent");

/** What is owed by person, and in all. */
export const useLentTotals = () => server.useQuery("get", "/api/lent/totals");

/** How a repayment would be split, once it is typed. */
export const useSplit = (id: string, asked: Asked | null) =>
  server.useQuery(
    "post",
    "/api/lent/{id}/split",
    { params: { path: { id } }, body: asked as Asked },
    { enabled: asked !== null, retry: false, placeholderData: keepPreviousData },
  );

/** Record a repayment. */
export const useReceive = (id: string) =>
  useAct((body: Asked) => api.post("/api/lent/{id}/receive", { params: { path: { id } }, body }));
