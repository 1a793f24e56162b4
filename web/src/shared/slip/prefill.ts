/** Values for a slip that is opened next, by its name, as if they had been typed there. */
let waiting: { name: string; values: unknown } | null = null;

export const prefill = (name: string, values: unknown) => {
  waiting = { name, values };
};

/** What waits for a slip; it is taken once, by the form that shows it. */
export function takePrefilled(name: string): unknown {
  if (waiting?.name !== name) return null;
  const { values } = waiting;
  waiting = null;
  return values;
}
