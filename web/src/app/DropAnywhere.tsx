import { useEffect, useState } from "react";
import { useNavigate } from "react-router";
import { keptSearch, useView } from "@/shared/view";

const hasFiles = (event: DragEvent) => event.dataTransfer?.types.includes("Files") ?? false;

/** A file dropped anywhere on the window is taken for one of a bank, and led to where it is looked at. */
export function DropAnywhere() {
  const navigate = useNavigate();
  const { search } = useView();
  const [isOver, setOver] = useState(false);
  useEffect(() => {
    const over = (event: DragEvent) => {
      if (!hasFiles(event)) return;
      event.preventDefault();
      setOver(true);
    };
    const out = (event: DragEvent) => event.relatedTarget === null && setOver(false);
    const drop = (event: DragEvent) => {
      setOver(false);
      const file = event.dataTransfer?.files[0];
      if (!file || event.defaultPrevented) return;
      event.preventDefault();
      void navigate(
        { pathname: "/accounts/your/bank-files", search: keptSearch(search) },
        { state: { dropped: file } },
      );
    };
    window.addEventListener("dragover", over);
    window.addEventListener("dragleave", out);
    window.addEventListener("drop", drop);
    return () => {
      window.removeEventListener("dragover", over);
      window.removeEventListener("dragleave", out);
      window.removeEventListener("drop", drop);
    };
  }, [navigate, search]);
  if (!isOver) return null;
  return (
    <div className="pointer-events-none fixed inset-0 z-40 grid place-items-center bg-paper/85">
      <p className="border-2 border-dashed border-copper px-10 py-8 text-xl">Drop a bank’s file to look at it</p>
    </div>
  );
}
