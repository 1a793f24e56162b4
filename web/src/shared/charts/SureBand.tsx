import { useMemo } from "react";
import { dayNumber } from "@/shared/format";
import type { Chance } from "@/shared/hooks/useChance";
import type { Scales } from "./steps";

interface Props {
  bands: Chance["bands"];
  last: number;
  scales: Scales;
}

/** Where the balance is expected to be in eight of ten paths: a pencil wash around the line. */
export function SureBand({ bands, last, scales }: Props) {
  const shape = useMemo(() => outline(bands, last, scales), [bands, last, scales]);
  return <path d={shape} fill="var(--pencil)" opacity="0.22" data-testid="band" />;
}

/** Forward along the upper edge and back along the lower one, in steps. */
function outline(bands: Chance["bands"], last: number, { x, y }: Scales): string {
  const starts = bands.map(([day]) => x(dayNumber(day as string)));
  const ends = [...starts.slice(1), x(last)];
  const upper = bands.map((band, place) => step(ends[place] ?? 0, y(band[3] as number)));
  const lower = bands.map((band, place) => step(starts[place] ?? 0, y(band[1] as number)));
  return `M${starts[0]?.toFixed(1)} ${y(bands[0]?.[1] as number).toFixed(1)}${upper.join("")}${lower.reverse().join("")}Z`;
}

const step = (across: number, up: number) => `V${up.toFixed(1)}H${across.toFixed(1)}`;
