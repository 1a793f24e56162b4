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
  return (
    <nav aria-label="Ways of looking ahead" className="mb-3 flex flex-wrap gap-x-5">
      {LENSES.map((lens) => (
        <NavLink
          key={lens.path}
          end
          to={{ pathname: lens.path, search: keptSearch(search) }}
          className={({ isActive }) =>
            `inline-flex min-h-9 items-center ${isActive ? "border-b-2 border-ink font-semibold" : "text-pencil hover:text-ink"}`
          }
        >
          {lens.name}
        </NavLink>
      ))}
    </nav>
  );
}
