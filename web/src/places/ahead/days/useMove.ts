import { useHousehold, useSave } from "@/shared/api/hooks";
import { useToast } from "@/shared/kit/Toast";

export interface Movable {
  flow: string | null;
  nominal: string | null;
  name: string;
  date: string;
  status: string;
  may_change: boolean;
}

/** Whether an item can be given another day. */
export const mayMove = (event: Movable) =>
  event.flow !== null && event.nominal !== null && event.status !== "settled" && event.may_change;

/** Give an expected item another day, just this once or from here on. */
export function useMove() {
  const today = useHousehold().data?.today ?? "";
  const save = useSave();
  const toast = useToast();
  return (event: Movable, day: string, isOnward: boolean) => {
    if (!mayMove(event) || day === event.date) return;
    if (day < today) return toast("What is planned can be moved to today or a later day.");
    const which = { kind: "flow", id: event.flow as string } as const;
    const value = { moved_to: day };
    const nominal = event.nominal as string;
    save.mutate(
      [isOnward ? { op: "revise", ...which, from: nominal, value } : { op: "once", ...which, nominal, value }],
      {
        onSuccess: (history) =>
          toast(
            `${event.name} moved ${isOnward ? "from here on" : "just this once"}. ${history.notes?.join(" ") ?? ""}`,
          ),
        onError: (error) => toast(error.message),
      },
    );
  };
}
