/** The columns of a schedule: those that hold something, and the whole sum where more than the loan itself is paid. */
import type { Schemas } from "@/shared/api/client";
import { money } from "@/shared/format";
import type { Figure } from "./Why";

type Row = Schemas["LoanRow"];
type Year = Schemas["ScheduleYear"];

export interface Column {
  name: Figure | "insurance" | "in_all";
  label: string;
  /** Only where there is room for it. */
  wide: boolean;
  ofRow: (row: Row, number: number) => number;
  ofYear?: (year: Year, place: number) => number;
  /** Of all payments; none of a balance. */
  inAll?: number;
}

/** What of a row can be asked why. */
export const isExplained = (name: Column["name"]): name is Figure => name !== "insurance" && name !== "in_all";

type Told = Pick<Schemas["LoanScheduleAnswer"], "rows" | "totals" | "in_all">;

export function scheduleColumns({ rows, totals, in_all: inAll }: Told): Column[] {
  const has = (name: "extra" | "escrow" | "insurance") => rows.some((row) => row[name] !== 0);
  const first = rows[0]?.number ?? 1;
  const all: (Column | false)[] = [
    { name: "payment", label: "Payment", wide: true, ofRow: (row) => row.payment, inAll: totals.payment },
    {
      name: "interest",
      label: "Interest",
      wide: false,
      ofRow: (row) => row.interest,
      inAll: totals.interest,
      ofYear: (year) => year.interest_paid,
    },
    {
      name: "principal",
      label: "Principal",
      wide: false,
      ofRow: (row) => row.principal,
      inAll: totals.principal,
      ofYear: (year) => year.principal,
    },
    has("extra") && {
      name: "extra",
      label: "Extra",
      wide: true,
      ofRow: (row) => row.extra,
      inAll: totals.extra,
      ofYear: (year) => year.extra,
    },
    has("escrow") && {
      name: "escrow",
      label: "Escrow",
      wide: true,
      ofRow: (row) => row.escrow,
      inAll: totals.escrow,
      ofYear: (year) => year.escrow,
    },
    has("insurance") && {
      name: "insurance",
      label: "Insurance",
      wide: true,
      ofRow: (row) => row.insurance,
      inAll: totals.insurance,
      ofYear: (_, place) => inAll.insurance[place] ?? 0,
    },
    (has("escrow") || has("insurance")) && {
      name: "in_all",
      label: "In all",
      wide: true,
      ofRow: (_, number) => inAll.rows[number - first] ?? 0,
      ofYear: (_, place) => inAll.years[place] ?? 0,
      inAll: inAll.total,
    },
    { name: "balance", label: "Balance", wide: false, ofRow: (row) => row.balance },
  ];
  return all.filter((column) => column !== false);
}

/** What a loan costs as it is paid out. */
export function feesText({ fees, fees_financed: financed }: Schemas["PaidOut"], currency: string): string {
  const cash = fees - financed;
  const inLoan = financed > 0 ? `fees of ${money(financed, currency)} in the loan` : "";
  if (cash === 0) return inLoan;
  return inLoan ? `${inLoan} and ${money(cash, currency)} in cash` : `fees of ${money(cash, currency)} in cash`;
}
