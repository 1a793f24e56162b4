import { FieldRows, type Typed } from "./FieldRows";
import type { LenderForm } from "./loanForm";

/** The loan moved: who is paid from a day on, where, and what that costs. */
export function LenderRows(props: Typed<LenderForm>) {
  return (
    <FieldRows
      {...props}
      label="The loan moved to another lender"
      what="Lender"
      add="Another lender from a day on"
      columns={[
        { name: "from", label: "paid from", type: "date", look: "!w-40" },
        { name: "name", label: "name", placeholder: "Who is paid", look: "!w-48" },
        { name: "fee", label: "fee with each payment", placeholder: "Fee", look: "!w-28 text-right" },
        { name: "address", label: "address", placeholder: "Address", look: "" },
      ]}
      blank={{ from: "", name: "", address: "", fee: "" }}
    />
  );
}
