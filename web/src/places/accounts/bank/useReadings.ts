import { keepPreviousData, useQuery } from "@tanstack/react-query";
import { answer, api, type ChangeRequest, type Schemas } from "@/shared/api/client";
import { useAct } from "@/shared/api/hooks";

export type ReadingCheck = Schemas["ReadingCheck"];
export type ReadingRow = Schemas["ReadingRow"];
export type Asked = Schemas["ReadingRequest"];

/** The true balances that are kept, of one account or of all, the newest of each first. */
export const useReadings = (account?: string) =>
  useQuery({
    queryKey: ["readings", account],
    queryFn: () =>
      answer<ReadingRow[]>(api.GET("/api/readings", { params: { query: account === undefined ? {} : { account } } })),
  });

/** What the bank says beside the books, once it is typed. */
export const useReadingCheck = (asked: Asked | null) =>
  useQuery({
    queryKey: ["reading-check", asked],
    enabled: asked !== null,
    retry: false,
    placeholderData: keepPreviousData,
    queryFn: ({ signal }) => answer<ReadingCheck>(api.POST("/api/readings/check", { body: asked as Asked, signal })),
  });

/** Keep a true balance, with what explains it. */
export const useKeepReading = () =>
  useAct((reading: Asked & { changes: ChangeRequest[] }) =>
    answer<Schemas["ChangeAnswer"]>(api.POST("/api/readings", { body: reading })),
  );

/** Take a true balance away. */
export const useForgetReading = () =>
  useAct(({ account, date }: { account: string; date: string }) =>
    answer<Schemas["ChangeAnswer"]>(api.DELETE("/api/readings", { params: { query: { account, date } } })),
  );
