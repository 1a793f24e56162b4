import { server } from "@/shared/api/client";

/** A loan of the household, as its pages show it. */
export function useLoanPage(id: string) {
  return server.useQuery("get", "/api/debts/{id}", { params: { path: { id } } }, { retry: false });
}
