/** A straight scale from numbers to pixels, and back. */
export interface Linear {
  (value: number): number;
  invert: (pixel: number) => number;
}

export function linear({
  domain: [from, to],
  range: [begin, end],
}: {
  domain: [number, number];
  range: [number, number];
}): Linear {
  const stretch = to === from ? 0 : (end - begin) / (to - from);
  const scale = (value: number) => begin + (value - from) * stretch;
  return Object.assign(scale, { invert: (pixel: number) => (stretch === 0 ? from : from + (pixel - begin) / stretch) });
}
