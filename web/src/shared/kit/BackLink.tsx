import { ArrowLeft } from "lucide-react";
import { Link } from "react-router";
import { keptSearch, useView } from "@/shared/view";

/** From a page of one thing back to the place that lists them. */
export function BackLink({ to, name }: { to: string; name: string }) {
  const { search } = useView();
  return (
    <Link
      to={{ pathname: to, search: keptSearch(search) }}
      className="inline-flex min-h-8 items-center gap-1 text-sm text-pencil hover:underline"
    >
      <ArrowLeft size={15} aria-hidden /> {name}
    </Link>
  );
}
