/** What of a flow or allowance is other than its rule: changed dates, later changes; each may be taken back. */
import type { ChangeRequest, Flow, Schemas } from "@/shared/api/client";
import { dayText, money, rateText } from "@/shared/format";
import { FieldGroup } from "@/shared/kit/fields/Field";

export interface PlannedItem {
  /** How it is told to the app that this is to be as planned again. */
  undo: Pick<ChangeRequest, "op"> & { nominal?: string; from?: string; value: Record<string, null | false> | null };
  day: string;
  text: string;
}

interface Props {
  items: PlannedItem[];
  today: string;
  /** The days of what is to be taken back with the next saving. */
  takenBack: string[];
  onChange: (takenBack: string[]) => void;
}

export const keyOf = ({ undo }: PlannedItem) => `${undo.op} ${undo.nominal ?? undo.from}`;

export function Planned({ items, today, takenBack, onChange }: Props) {
  if (items.length === 0) return null;
  const earlier = items.filter((item) => item.day < today);
  const list = (some: PlannedItem[]) => (
    <ul>
      {some.map((item) => {
        const key = keyOf(item);
        const isBack = takenBack.includes(key);
        return (
          <li key={key} className="flex min-h-9 items-center gap-2 border-b border-rule">
            <span className={`flex-1 ${isBack ? "text-pencil line-through" : ""}`}>{item.text}</span>
            <button
              type="button"
              aria-label={`${isBack ? "Keep it" : "Take back"}: ${item.text}`}
              onClick={() => onChange(isBack ? takenBack.filter((other) => other !== key) : [...takenBack, key])}
              className="min-h-9 shrink-0 px-1 text-copper underline underline-offset-4"
            >
              {isBack ? "Keep it" : "Take back"}
            </button>
          </li>
        );
      })}
    </ul>
  );
  return (
    <FieldGroup label="Other than the rule">
      {list(items.filter((item) => item.day >= today))}
      {earlier.length > 0 && (
        <details>
          <summary className="min-h-9 cursor-pointer py-1 text-copper">
            {earlier.length === 1 ? "One before today" : `${earlier.length} before today`}
          </summary>
          {list(earlier)}
        </details>
      )}
    </FieldGroup>
  );
}

/** The changes that take back what was chosen. */
export function takingBack(kind: ChangeRequest["kind"], id: string, items: PlannedItem[], takenBack: string[]) {
  return items
    .filter((item) => takenBack.includes(keyOf(item)))
    .map((item): ChangeRequest => ({ kind, id, ...item.undo }));
}

type Change = NonNullable<Flow["changes"]>[number];
type Revision = NonNullable<Flow["revisions"]>[number];

/** What of a flow is other than its rule. Amounts of its own dates stand beside these and are left to them. */
export function plannedOf(row: Schemas["FlowRow"], today: string, nameOf: (id: string) => string): PlannedItem[] {
  const { flow, currency } = row;
  const changes = (flow.changes ?? []).flatMap((change): PlannedItem[] => {
    const day = change.nominal;
    const isOwnDate = (flow.dates ?? []).includes(day);
    const text = changeText(change, currency, today, isOwnDate);
    if (text === "") return [];
    const value = isOwnDate ? { moved_to: null, left_out: false as const, hours: null } : null;
    return [{ undo: { op: "once", nominal: day, value }, day, text: `${dayText(day, today)}: ${text}` }];
  });
  const revisions = (flow.revisions ?? []).map((revision, place): PlannedItem => {
    const wording = [revisionText(revision, currency, nameOf), row.rhythms[place]].filter(Boolean).join(", ");
    const text = `From ${dayText(revision.from, today)}: ${wording}`;
    return { undo: { op: "revise", from: revision.from, value: null }, day: revision.from, text };
  });
  return [...changes, ...revisions].sort((a, b) => (a.day < b.day ? -1 : 1));
}

function changeText(change: Change, currency: string, today: string, isOwnDate: boolean): string {
  if (change.left_out) return "left out";
  const parts = [
    change.amount != null && !isOwnDate ? money(change.amount, currency) : "",
    change.hours != null ? `${rateText(change.hours)} hours` : "",
    change.moved_to ? `on ${dayText(change.moved_to, today)} instead` : "",
  ];
  return parts.filter(Boolean).join(", ");
}

function revisionText(revision: Revision, currency: string, nameOf: (id: string) => string): string {
  const { amount, from_account, to_account, category, hourly } = revision;
  const parts = [
    amount != null ? money(amount, currency) : "",
    hourly ? `${money(hourly.rate, currency)} an hour, ${rateText(hourly.hours)} hours` : "",
    from_account ? `from ${nameOf(from_account)}` : "",
    to_account ? `to ${nameOf(to_account)}` : "",
    category ? `as ${nameOf(category)}` : "",
  ];
  return parts.filter(Boolean).join(", ");
}
