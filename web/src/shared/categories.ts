import type { Schemas } from "./api/client";

type Category = Schemas["Category"];

/** The categories to choose from, as options: of one kind, without those retired unless chosen already. */
export function categoryOptions(categories: Category[], kind: "income" | "expense", chosen: string[]) {
  return categories
    .filter((category) => (category.kind ?? "expense") === kind && (!category.retired || chosen.includes(category.id)))
    .map(({ id, name }) => ({ value: id, label: name }));
}
