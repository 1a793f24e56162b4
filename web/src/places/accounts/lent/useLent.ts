import { keepPreviousData, useQuery } from "@tanstack/react-query";
import { answer, api, type Schemas } from "@/shared/api/client";
import { useAct } from "@/shared/api/hooks";

export type LentRow = Schemas["LentRow"];
export type Asked = Schemas["ReceiveRequest"];

/** All money lent. */
export const useLent = () => useQuery({ queryKey: ["lent"], queryFn: () => answer<LentRow[]>(api.GET("/api/lent")) });

/** What is owed by person, and in all. */
export const useLentTotals = () =>
  useQuery({
    queryKey: ["lent-totals"],
    queryFn: () => answer<Schemas["LentTotals"]>(api.GET("/api/lent/totals")),
  });

/** How a repayment would be split, once it is typed. */
export const useSplit = (id: string, asked: Asked | null) =>
  useQuery({
    queryKey: ["lent-split", id, asked],
    enabled: asked !== null,
    retry: false,
    placeholderData: keepPreviousData,
    queryFn: ({ signal }) =>
      answer<Schemas["SplitAnswer"]>(
        api.POST("/api/lent/{id}/split", { params: { path: { id } }, body: asked as Asked, signal }),
      ),
  });

/** Record a repayment. */
export const useReceive = (id: string) =>
  useAct((body: Asked) =>
    answer<Schemas["ReceivedAnswer"]>(api.POST("/api/lent/{id}/receive", { params: { path: { id } }, body })),
  );
