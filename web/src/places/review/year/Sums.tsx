import type { ReactNode } from "react";

interface Props {
  title: string;
  columns: string[];
  rows: { key: string; cells: ReactNode[] }[];
  /** What they come to, in a last row. */
  total?: ReactNode[];
}

/** A small table of sums: the first column names, the others numbers. */
export function Sums({ title, columns, rows, total }: Props) {
  if (rows.length === 0) return null;
  const line = (cells: ReactNode[]) =>
    cells.map((cell, at) => (
      // biome-ignore lint/suspicious/noArrayIndexKey: columns have no identity but their place
      <td key={at} className={at === 0 ? "py-1 pr-3" : "py-1 pl-3 text-right whitespace-nowrap"}>
        {cell}
      </td>
    ));
  return (
    <table className="mb-5 w-full break-inside-avoid border-collapse">
      <caption className="pb-1 text-left font-display text-lg">{title}</caption>
      <thead>
        <tr className="border-b border-rule-strong text-sm text-pencil">
          {columns.map((column, at) => (
            <th key={column} scope="col" className={at === 0 ? "text-left font-normal" : "pl-3 text-right font-normal"}>
              {column}
            </th>
          ))}
        </tr>
      </thead>
      <tbody>
        {rows.map((row) => (
          <tr key={row.key} className="border-b border-rule">
            {line(row.cells)}
          </tr>
        ))}
      </tbody>
      {total && (
        <tfoot>
          <tr className="border-t border-rule-strong font-semibold">{line(total)}</tr>
        </tfoot>
      )}
    </table>
  );
}
