import { FieldRows, type Typed } from "./FieldRows";
import type { YearBeforeForm } from "./loanForm";

/** What was paid in years of which nothing is recorded here, for the tax return. */
export function YearsBefore(props: Typed<YearBeforeForm>) {
  return (
    <FieldRows
      {...props}
      label="Paid in years before it was kept here"
      what="Year before"
      add="A year before it was kept here"
      columns={[
        { name: "year", label: "year", placeholder: "Year", look: "!w-24" },
        { name: "interest", label: "interest paid", placeholder: "Interest", look: "!w-32 text-right" },
        { name: "property_tax", label: "property tax paid", placeholder: "Property tax", look: "!w-32 text-right" },
      ]}
      blank={{ year: "", interest: "", property_tax: "" }}
    />
  );
}
