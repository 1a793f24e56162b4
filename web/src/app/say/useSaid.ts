import { type Schemas, server } from "@/shared/api/client";
import { useCalm } from "@/shared/hooks/useCalm";

export type Reading = Schemas["ReadingModel"];

/** What a text says, a moment after it was typed; undefined while nothing is known of this text. */
export function useSaid(text: string, answers: Record<string, string>) {
  const asked = useCalm({ text: text.trim(), with: answers }, 120);
  const { data } = server.useQuery(
    "post",
    "/api/understand",
    { body: asked },
    {
      enabled: asked.text.includes(" "),
      retry: false,
      // While an answer to what was missing is looked at, what was read of the same text stays.
      placeholderData: (before, query) =>
        (query?.queryKey[2] as { body: typeof asked } | undefined)?.body.text === asked.text ? before : undefined,
    },
  );
  return asked.text === text.trim() ? data : undefined;
}
