import { useQuery } from "@tanstack/react-query";
import { answer, api, type Schemas } from "@/shared/api/client";

/** A loan of the household, as its pages show it. */
export function useLoanPage(id: string) {
  return useQuery({
    queryKey: ["loan", id],
    retry: false,
    queryFn: () => answer<Schemas["LoanPage"]>(api.GET("/api/debts/{id}", { params: { path: { id } } })),
  });
}
