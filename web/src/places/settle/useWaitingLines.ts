import { server } from "@/shared/api/client";

/** The lines of a bank that nobody has decided yet. */
export const useWaitingLines = (isWanted = true) =>
  server.useQuery("get", "/api/bank-lines/waiting", {}, { enabled: isWanted });
