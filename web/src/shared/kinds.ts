/** Kinds of rows whose dates and amounts are the household's own to change; others follow from their accounts. */
const OWN: readonly string[] = ["income", "bill", "transfer"];

export const isOwn = (kind: string) => OWN.includes(kind);
