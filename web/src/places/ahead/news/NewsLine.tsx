import { useQueryClient } from "@tanstack/react-query";
import { useNews } from "@/shared/hooks/useNews";
import { Button } from "@/shared/kit/Button";
import { PageLink } from "@/shared/kit/PageLink";

const AT_FIRST = 3;

/** Told once: that the lowest point is another than when this window was last looked at, and what made it so. */
export function NewsLine() {
  const client = useQueryClient();
  const news = useNews().data;
  if (!news?.sentence) return null;
  const { changes } = news;
  return (
    <section aria-label="Since you last looked" className="mb-3 border-l-4 border-copper bg-hover px-3 py-2">
      <p>{news.sentence}</p>
      {changes.length > 0 && (
        <ul className="text-sm">
          {changes.slice(0, AT_FIRST).map((change) => (
            <li key={change.id}>
              {change.undone && "Undone: "}
              {change.sentence}
            </li>
          ))}
          {changes.length > AT_FIRST && <li>and {changes.length - AT_FIRST} more</li>}
        </ul>
      )}
      <div className="flex flex-wrap gap-x-2">
        <PageLink to="/review/changes">What changed</PageLink>
        <Button look="link" className="!min-h-8" onClick={() => client.setQueryData(["news"], null)}>
          Seen
        </Button>
      </div>
    </section>
  );
}
