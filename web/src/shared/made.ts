import type { Account, Schemas } from "./api/client";

/** The account that makes a flow of itself, and the flow's name: a card's payment, and interest. */
export function madeBy(
  flow: string | null,
  accounts: Schemas["AccountRow"][],
): { account: Account; name: string } | undefined {
  for (const { account, makes } of accounts) {
    const made = makes.find(({ id }) => id === flow);
    if (made) return { account, name: made.name };
  }
  return undefined;
}
