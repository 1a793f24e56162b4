/** The plan in pencil; what-ifs in copper, told apart by how their lines are drawn. */
const STROKES = [
  { stroke: "var(--ink)", strokeWidth: 1.7, strokeDasharray: "5 3.5" },
  { stroke: "var(--copper)", strokeWidth: 2.2 },
  { stroke: "var(--copper)", strokeWidth: 2.2, strokeDasharray: "1.5 3" },
  { stroke: "var(--copper)", strokeWidth: 2.2, strokeDasharray: "9 4" },
  { stroke: "var(--copper)", strokeWidth: 2.2, strokeDasharray: "9 3 1.5 3" },
] as const;

export const lookOf = (place: number) => STROKES[place] ?? STROKES[1];
