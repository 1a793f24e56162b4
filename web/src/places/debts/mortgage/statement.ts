/** A lender's statement as a person types it off, and how it is asked about. */
import { keepPreviousData } from "@tanstack/react-query";
import { type Schemas, server } from "@/shared/api/client";
import { amountOr, type Fields, readFields } from "@/shared/fields";
import { digits } from "@/shared/format";
import { z } from "@/shared/zod";

export type Statement = Schemas["StatementDocument"];
export type Item = Schemas["ComparedFigure"]["item"];
export type Figures = Record<Item, string>;

export interface Row {
  item: Item;
  name: string;
  isEscrow?: boolean;
}

export const ROWS: Row[] = [
  { item: "principal_balance", name: "Still owed" },
  { item: "escrow_balance", name: "In escrow", isEscrow: true },
  { item: "interest_to_date", name: "Interest paid this year" },
  { item: "escrow_to_date", name: "Paid into escrow this year", isEscrow: true },
  { item: "last_principal", name: "Last payment: principal" },
  { item: "last_interest", name: "Last payment: interest" },
  { item: "last_escrow", name: "Last payment: escrow", isEscrow: true },
];

export const BLANK = Object.fromEntries(ROWS.map((row) => [row.item, ""])) as Figures;

/** The statement that is typed so far, null while nothing is; or the figures that cannot be read. */
export function readStatement(date: string, figures: Figures, currency: string): Fields<Statement | null> {
  const read = readFields(z.record(z.enum(ROWS.map(({ item }) => item)), amountOr(null, currency)), figures);
  if ("problems" in read) return read;
  const { last_principal: principal, last_interest: interest, last_escrow: escrow, ...rest } = read.value;
  const isBlank = Object.values(read.value).every((amount) => amount === null);
  return { value: isBlank ? null : { date, ...rest, last_split: { principal, interest, escrow } } };
}

/** A statement that was kept, as it was typed. */
export function figuresOf(statement: Statement, currency: string): Figures {
  const split = statement.last_split;
  const amounts = {
    ...statement,
    last_principal: split?.principal,
    last_interest: split?.interest,
    last_escrow: split?.escrow,
  };
  return Object.fromEntries(
    ROWS.map(({ item }) => [item, amounts[item] == null ? "" : digits(amounts[item] as number, currency)]),
  ) as Figures;
}

export function useStatementCheck(account: string, statement: Statement | null) {
  return server.useQuery(
    "post",
    "/api/loans/{account}/statement-check",
    { params: { path: { account } }, body: statement as Statement },
    { enabled: statement !== null, placeholderData: keepPreviousData, retry: false },
  );
}

export function useKeptChecks(account: string) {
  return server.useQuery("get", "/api/loans/{account}/statement-checks", { params: { path: { account } } });
}
