import { format } from "date-fns";
import type { Schemas } from "@/shared/api/client";
import { civil, dayText } from "@/shared/format";

/** Why a backup was made. */
export const KINDS: Record<Schemas["BackupModel"]["kind"], string> = {
  daily: "by itself, once a day",
  asked: "asked for",
  "before-restore": "what was there before a restoring",
  "before-update": "what was there before an update",
  brought: "brought from elsewhere",
  kept: "what was open when the file became another",
  latest: "the newest state, always kept",
};

/** A size as people compare it. */
export function sizeText(bytes: number): string {
  if (bytes < 1024 * 1024) return `${Math.max(1, Math.round(bytes / 1024))} kB`;
  return `${(bytes / 1024 / 1024).toFixed(1)} MB`;
}

/** When a backup was made: day and time. */
export const madeText = (made: string, today: string) =>
  `${dayText(made.slice(0, 10), today)}, ${format(civil(made), "HH:mm")}`;
