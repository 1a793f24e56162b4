import type { Account, Schemas } from "./api/client";

const NAMES = { payment: "Payment", interest: "Interest" } as const;

/** The account that makes a flow of itself, and the flow's name: a card's payment, and interest. */
export function madeBy(
  flow: string | null,
  accounts: Schemas["AccountRow"][],
): { account: Account; name: string } | undefined {
  for (const { account } of accounts)
    for (const kind of ["payment", "interest"] as const)
      if (flow === `${account.id}-${kind}` && (account.card || (account.savings && kind === "interest")))
        return { account, name: `${NAMES[kind]}, ${account.name}` };
  return undefined;
}
