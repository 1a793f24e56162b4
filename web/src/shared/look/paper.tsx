import { type ReactNode, useEffect } from "react";
import { useHousehold } from "@/shared/api/hooks";
import { setWriting } from "@/shared/format";
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

interface PageProps {
  /** What it is of; the household's name stands behind it. */
  title: string;
  error: Error | null;
  className?: string;
  /** What is printed, once all is there that it needs; null until then. */
  children: (() => ReactNode) | null;
}

/** A page on paper, written as the household writes. */
export function PaperPage({ title, error, className = "mx-auto max-w-5xl", children }: PageProps) {
  const household = useHousehold().data;
  useOnPaper();
  if (error) return <p role="alert">{error.message}</p>;
  if (!household || !children) return null;
  setWriting(household);
  const name = household.household.name;
  return (
    <main className={`p-6 print:p-0 ${className}`}>
      <PaperHeading title={name ? `${title}, ${name}` : title} />
      {children()}
    </main>
  );
}
