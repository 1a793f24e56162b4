import { useEffect, useRef } from "react";
import { NavLink } from "react-router";
import { keptSearch, useView } from "@/shared/view";

const LENSES = [
  { path: "/ahead", name: "Days" },
  { path: "/ahead/months", name: "Months" },
  { path: "/ahead/calendar", name: "Calendar" },
  { path: "/ahead/year", name: "Year list" },
  { path: "/ahead/worth", name: "Net worth" },
  { path: "/ahead/what-ifs", name: "What-ifs" },
];

/** Ways of looking at the same stretch of time. */
export function Lenses() {
  const { search } = useView();
  const row = useRef<HTMLElement>(null);
  useEffect(() => {
    // On a phone the row scrolls: the one that is looked at is in sight.
    const active = row.current?.querySelector<HTMLElement>("[aria-current=page]");
    if (row.current && active) row.current.scrollLeft = active.offsetLeft - row.current.clientWidth / 2;
  }, []);
  return (
    <nav
      ref={row}
      aria-label="Ways of looking ahead"
      className="mb-3 flex gap-x-5 overflow-x-auto [scrollbar-width:none]"
    >
      {LENSES.map((lens) => (
        <NavLink
          key={lens.path}
          end
          to={{ pathname: lens.path, search: keptSearch(search) }}
          className={({ isActive }) =>
            `inline-flex min-h-9 shrink-0 items-center whitespace-nowrap ${isActive ? "border-b-2 border-ink font-semibold" : "text-pencil hover:text-ink"}`
          }
        >
          {lens.name}
        </NavLink>
      ))}
    </nav>
  );
}
