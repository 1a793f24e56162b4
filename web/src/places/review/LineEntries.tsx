import { useQuery } from "@tanstack/react-query";
import { answer, api, type Schemas } from "@/shared/api/client";
import { dayText, money } from "@/shared/format";
import { useView } from "@/shared/view";

interface Props {
  line: Schemas["ReviewLine"];
  answerOf: Schemas["ReviewAnswer"];
  accounts: string;
}

/** The entries behind a line of the review; each opens, to be corrected on the spot. */
export function LineEntries({ line, answerOf, accounts }: Props) {
  const { openSlip } = useView();
  const categories = (line.kind === "allowance" ? line.categories : line.id ? [line.id] : []).join(",");
  const query = { from: answerOf.from, to: answerOf.to, categories, ...(accounts && { accounts }) };
  const { data, error } = useQuery({
    queryKey: ["review-entries", query],
    queryFn: () => answer<Schemas["ReviewEntry"][]>(api.GET("/api/review/entries", { params: { query } })),
  });
  if (error) return <p role="alert">{error.message}</p>;
  if (data?.length === 0) return <p className="py-1 text-pencil">Nothing was recorded here in these days.</p>;
  return (
    <ul className="max-w-2xl py-1">
      {data?.map((entry) => (
        <li key={`${entry.id} ${entry.category}`} className="flex min-h-8 items-baseline gap-3">
          <span className="w-28 shrink-0 text-pencil">{dayText(entry.date, answerOf.today)}</span>
          <button
            type="button"
            className="min-w-0 grow text-left hover:underline"
            onClick={() => openSlip("entry", entry.id)}
          >
            {entry.payee}
            {line.categories.length > 1 && <span className="ml-2 text-sm text-pencil">{entry.category}</span>}
          </button>
          <span className="whitespace-nowrap">{money(entry.amount, answerOf.currency)}</span>
        </li>
      ))}
    </ul>
  );
}
