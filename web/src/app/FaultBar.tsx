import { useQuery } from "@tanstack/react-query";
import { useLocation } from "react-router";
import { PageLink } from "@/shared/kit/PageLink";

const DATA = "/accounts/your/data";

/** Nothing can be written just now: said on every page, with the way to what can be done. */
export function FaultBar() {
  // The window that is looked at asks for it every two seconds anyhow.
  const fault = useQuery<string | null>({ queryKey: ["fault"], enabled: false }).data;
  const isThere = useLocation().pathname === DATA;
  if (!fault || isThere) return null;
  return (
    <p role="alert" className="flex flex-wrap items-center gap-x-3 border-b-2 border-rust px-4 py-1 text-rust md:px-6">
      <span className="min-w-0 flex-1 font-semibold">{fault}</span>
      <PageLink to={DATA}>What can be done</PageLink>
    </p>
  );
}
