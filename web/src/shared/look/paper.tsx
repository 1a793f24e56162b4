import { useEffect } from "react";
import { Button } from "@/shared/kit/Button";

/** The page is as long as it is, as paper is. */
export function useOnPaper() {
  useEffect(() => {
    document.documentElement.classList.add("on-paper");
    return () => document.documentElement.classList.remove("on-paper");
  }, []);
}

/** What a printed page is, and the way to the printer. */
export function PaperHeading({ title }: { title: string }) {
  return (
    <div className="mb-3 flex items-baseline gap-4">
      <h1 className="text-xl">{title}</h1>
      <Button className="print:hidden" onClick={() => window.print()}>
        Print
      </Button>
    </div>
  );
}
