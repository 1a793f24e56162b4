import { useQuery, useQueryClient } from "@tanstack/react-query";
import { api, type Schemas, server } from "@/shared/api/client";
import { Button } from "@/shared/kit/Button";
import { useView } from "@/shared/view";

type Noticed = Schemas["Noticed"];

const WHAT: Record<Noticed["kind"], string> = {
  doubled: "Twice?",
  dearer: "Dearer",
  new_payee: "New",
};

const NOTICED = server.queryOptions("get", "/api/review/noticed");

export const useNoticed = () => useQuery(NOTICED);

/** What was recorded lately and is worth a look, until it was looked at. */
export function WorthALook() {
  const { openSlip } = useView();
  const client = useQueryClient();
  const { data } = useNoticed();
  if (!data || data.length === 0) return null;
  const look = async (keys: string[]) => {
    const left = await api.post("/api/review/noticed/seen", { body: { keys } });
    client.setQueryData(NOTICED.queryKey, left);
  };
  return (
    <section aria-label="Worth a look" className="mt-6">
      <div className="mb-1 flex flex-wrap items-baseline gap-x-3">
        <h2 className="text-lg">Worth a look</h2>
        {data.length > 1 && (
          <Button look="link" onClick={() => look(data.map(({ key }) => key))}>
            All looked at
          </Button>
        )}
      </div>
      <ul>
        {data.map((notice) => (
          <li key={notice.key} className="flex flex-wrap items-center gap-x-3 border-b border-rule py-1">
            <span className="w-16 text-sm text-pencil">{WHAT[notice.kind]}</span>
            <button
              type="button"
              className="min-w-52 flex-1 text-left hover:underline"
              onClick={() => openSlip("entry", notice.entry)}
            >
              {notice.sentence}
            </button>
            <Button
              look="link"
              className="!min-h-8"
              aria-label={`Looked at: ${notice.sentence}`}
              onClick={() => look([notice.key])}
            >
              Looked at
            </Button>
          </li>
        ))}
      </ul>
    </section>
  );
}
