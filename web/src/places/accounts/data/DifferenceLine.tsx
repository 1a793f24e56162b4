import type { Schemas } from "@/shared/api/client";
import { counted } from "@/shared/format";

const NAMES: Record<string, [string, string]> = {
  account: ["account", "accounts"],
  category: ["category", "categories"],
  flow: ["flow", "flows"],
  allowance: ["allowance", "allowances"],
  entry: ["entry", "entries"],
  "what-if": ["what-if", "what-ifs"],
  setting: ["setting", "settings"],
};

/** How many of a kind would come, change and go, with the first names. */
export function DifferenceLine({ difference }: { difference: Schemas["DifferenceModel"] }) {
  const { kind, added, changed, removed, names } = difference;
  const countedKind = (count: number) => `${counted(count)} ${NAMES[kind]?.[count === 1 ? 0 : 1] ?? kind}`;
  const parts = [
    removed ? `${countedKind(removed)} gone` : "",
    changed ? `${countedKind(changed)} changed` : "",
    added ? `${countedKind(added)} new` : "",
  ].filter(Boolean);
  return (
    <li className="border-b border-rule py-1">
      {parts.join(", ")}
      {kind !== "setting" && <span className="block text-sm text-pencil">{names.join("; ")}</span>}
    </li>
  );
}
