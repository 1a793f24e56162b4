import { Button } from "@/shared/kit/Button";
import { type CsvCell, csvOf } from "./csv";

interface Props {
  /** What the file is called, and what of: `flows`, `days`. */
  name: string;
  /** Whose list it is, for those who hear the button beside another. */
  of: string;
  headings: readonly string[];
  /** The rows as they are shown now; asked for when the file is wanted. */
  rows: () => CsvCell[][];
  label?: string;
}

/** The list above or below, as it is filtered, as a file for a spreadsheet. */
export function AsCsv({ name, of, headings, rows, label }: Props) {
  const keep = () => {
    // The mark at the beginning tells spreadsheets that it is UTF-8.
    const file = new Blob(["\ufeff", csvOf(headings, rows())], { type: "text/csv;charset=utf-8" });
    const address = URL.createObjectURL(file);
    const link = document.createElement("a");
    link.href = address;
    link.download = `${name}.csv`;
    link.click();
    setTimeout(() => URL.revokeObjectURL(address), 60_000);
  };
  return (
    <Button look="link" className="!min-h-9" onClick={keep}>
      {label ?? (
        <>
          As a table<span className="sr-only">: {of}</span>
        </>
      )}
    </Button>
  );
}
