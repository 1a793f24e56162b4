import { Dialog } from "radix-ui";
import { dayText } from "@/shared/format";
import { Button } from "@/shared/kit/Button";
import { type Movable, useMove } from "./useMove";

interface Props {
  asked: { event: Movable; day: string } | null;
  today: string;
  onDone: () => void;
}

/** An item was dropped on another day: just this once, or from here on? */
export function MoveAsk({ asked, today, onDone }: Props) {
  const move = useMove();
  const answer = (isOnward: boolean) => {
    if (asked) move(asked.event, asked.day, isOnward);
    onDone();
  };
  return (
    <Dialog.Root open={asked !== null} onOpenChange={(open) => !open && onDone()}>
      <Dialog.Portal>
        <Dialog.Overlay className="fixed inset-0 z-40 bg-ink/20" />
        <Dialog.Content
          aria-describedby={undefined}
          className="fixed top-1/3 left-1/2 z-50 w-[min(26rem,92vw)] -translate-x-1/2 rounded-sm border border-rule-strong bg-sheet p-4 shadow-lg"
        >
          <Dialog.Title className="text-lg">
            {asked && `${asked.event.name} on ${dayText(asked.day, today)}`}
          </Dialog.Title>
          <div className="mt-3 flex flex-wrap gap-2">
            <Button look="main" onClick={() => answer(false)}>
              Just this once
            </Button>
            <Button onClick={() => answer(true)}>From here on</Button>
            <Button look="link" onClick={onDone}>
              Leave it
            </Button>
          </div>
        </Dialog.Content>
      </Dialog.Portal>
    </Dialog.Root>
  );
}
