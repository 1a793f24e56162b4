import type { Schemas } from "@/shared/api/client";
import { useEntryChoices } from "@/shared/api/hooks";
import { Button } from "@/shared/kit/Button";
import { StarterSet } from "@/shared/kit/fields/StarterSet";
import { CategoryIcon } from "@/shared/look/icons";
import { useView } from "@/shared/view";

/** The household's categories by group, or a set to start from. */
export function Categories() {
  const categories = useEntryChoices().data?.categories;
  const { openSlip } = useView();
  if (!categories) return null;
  const groups = new Map<string, Schemas["Category"][]>();
  for (const category of categories.filter((oneCategory) => !oneCategory.merged_into)) {
    const group = category.group || (category.kind === "income" ? "Money in" : "Money out");
    groups.set(group, [...(groups.get(group) ?? []), category]);
  }
  return (
    <section aria-label="Categories" className="mt-8">
      <div className="flex flex-wrap items-baseline gap-x-4 border-b border-rule-strong">
        <h2 className="text-lg">Categories</h2>
        <Button look="link" onClick={() => openSlip("category", null)}>
          Add a category
        </Button>
      </div>
      <StarterSet words="Categories say what money was for." />
      <dl className="columns-1 gap-8 pt-2 @2xl:columns-2 @4xl:columns-3">
        {[...groups].map(([group, members]) => (
          <div key={group} className="mb-3 break-inside-avoid">
            <dt className="text-sm text-pencil">{group}</dt>
            {members.map((category) => (
              <dd key={category.id}>
                <button
                  type="button"
                  className={`inline-flex min-h-8 items-center gap-2 hover:underline ${category.retired ? "text-pencil line-through" : ""}`}
                  onClick={() => openSlip("category", category.id)}
                >
                  <CategoryIcon name={category.icon} />
                  {category.name}
                  {category.retired && <span className="sr-only">(retired)</span>}
                </button>
              </dd>
            ))}
          </div>
        ))}
      </dl>
    </section>
  );
}
