import { api, server } from "@/shared/api/client";
import { useAct } from "@/shared/api/hooks";
import { counted, dayText, money } from "@/shared/format";
import { Button } from "@/shared/kit/Button";

/** What a backup holds, and restoring it. */
export function BackupLook({ name, today }: { name: string; today: string }) {
  const path = { params: { path: { name } } };
  const { data, error } = server.useQuery("get", "/api/backups/{name}", path, { retry: false });
  const restore = useAct(() => api.post("/api/backups/{name}/restore", path));
  if (error)
    return (
      <p role="alert" className="text-rust">
        {error.message}
      </p>
    );
  if (!data) return <p className="text-pencil">Looking into it…</p>;
  return (
    <section aria-label="What it holds" className="border-l-2 border-copper pl-3">
      <p>
        {data.household || "A household without a name"}: {counted(data.entries)} entries
        {data.last_date && (
          <>
            , the last of <strong>{dayText(data.last_date, today)}</strong>
            {data.last_payee && ` (${data.last_payee})`}
          </>
        )}
        ; {data.flows} flows. Balances today as it has them:
      </p>
      <ul className="max-w-md">
        {data.accounts.map((account) => (
          <li key={account.name} className="flex justify-between gap-4 border-b border-rule py-0.5">
            <span className="min-w-0 break-words">{account.name}</span>
            <span>{money(account.balance, account.currency)}</span>
          </li>
        ))}
      </ul>
      <p className="mt-2 flex flex-wrap items-center gap-3">
        <Button look="main" disabled={restore.isPending} onClick={() => restore.mutate(undefined)}>
          {restore.isPending ? "Restoring…" : "Restore this one"}
        </Button>
        <span className="text-pencil">What is there now is kept as a backup, and undo takes the restoring back.</span>
      </p>
    </section>
  );
}
