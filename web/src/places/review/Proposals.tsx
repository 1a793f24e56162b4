import { api, type Schemas, server } from "@/shared/api/client";
import { useAct, useHousehold } from "@/shared/api/hooks";
import { dayText, money } from "@/shared/format";
import { Button } from "@/shared/kit/Button";

type Proposal = Schemas["ProposalModel"];

export const useProposals = () => server.useQuery("get", "/api/review/proposals");

/** From the review back into the plan: amounts that would have fitted. */
export function Proposals() {
  const { data } = useProposals();
  if (!data || data.length === 0) return null;
  return (
    <section aria-label="What would fit better" className="mt-6">
      <h2 className="mb-1 text-lg">What would fit better</h2>
      <ProposalList proposals={data} />
    </section>
  );
}

/** Amounts that are proposed, each taken over with one press. */
export function ProposalList({ proposals }: { proposals: readonly Proposal[] }) {
  const today = useHousehold().data?.today;
  const take = useAct((oneProposal: Proposal) => api.post("/api/changes", { body: { changes: [oneProposal.change] } }));
  return (
    <ul>
      {proposals.map((proposal) => (
        <li
          key={`${proposal.kind} ${proposal.id}`}
          className="flex flex-wrap items-center gap-x-3 border-b border-rule py-1"
        >
          <span className="min-w-52 font-semibold">{proposal.name}</span>
          <span className="min-w-52 flex-1">{proposal.sentence}</span>
          <Button look="link" disabled={take.isPending} onClick={() => take.mutate(proposal)}>
            {money(proposal.amount, proposal.currency)} from {dayText(proposal.from, today)} on
          </Button>
        </li>
      ))}
    </ul>
  );
}
