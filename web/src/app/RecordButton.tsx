import { Plus } from "lucide-react";
import { useAccounts } from "@/shared/api/hooks";
import { useView } from "@/shared/view";

/** On a phone, always at hand: say what was spent, or begin a slip. */
export function RecordButton({ onPress }: { onPress: () => void }) {
  const { slip } = useView();
  const accounts = useAccounts().data?.accounts ?? [];
  if (accounts.length === 0 || slip) return null;
  return (
    <button
      type="button"
      aria-label="Record, find or do"
      onClick={onPress}
      className="fixed right-4 bottom-16 z-20 grid size-14 place-items-center rounded-md bg-copper text-on-copper shadow-lg md:hidden"
    >
      <Plus size={28} aria-hidden />
    </button>
  );
}
