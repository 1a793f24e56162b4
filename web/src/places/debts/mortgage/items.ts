import type { Schemas } from "@/shared/api/client";

export type PropertyItem = Exclude<keyof Schemas["PropertySums"], "net">;

/** What a property's money was for. */
export const ITEM_NAMES: { item: PropertyItem; name: string }[] = [
  { item: "rent", name: "Rent and other income" },
  { item: "interest", name: "Loan interest" },
  { item: "tax", name: "Property tax" },
  { item: "insurance", name: "Insurance" },
  { item: "upkeep", name: "Upkeep" },
  { item: "other", name: "Other costs" },
];
