import type { ReactNode } from "react";
import { Link } from "react-router";
import { keptSearch, useView } from "@/shared/view";

/** A way to another page, with the stretch of time and the accounts that are looked at. */
export function PageLink({ to, children }: { to: string; children: ReactNode }) {
  const { search } = useView();
  return (
    <Link
      to={{ pathname: to, search: keptSearch(search) }}
      className="inline-flex min-h-10 items-center rounded-sm px-2 text-copper hover:bg-hover"
    >
      {children}
    </Link>
  );
}
