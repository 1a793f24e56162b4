import { Command } from "cmdk";
import { useNavigate } from "react-router";
import { keptSearch, useView } from "@/shared/view";

export const GROUP =
  "[&_[cmdk-group-heading]]:px-2 [&_[cmdk-group-heading]]:py-1 [&_[cmdk-group-heading]]:text-sm [&_[cmdk-group-heading]]:text-pencil";

/** One line that can be chosen. */
export function Item(props: { name: string; value?: string; hint?: string; also?: string; onSelect: () => void }) {
  return (
    <Command.Item
      value={props.value ?? props.name}
      keywords={props.also ? [props.name, props.also] : [props.name]}
      onSelect={props.onSelect}
      className="flex min-h-10 cursor-pointer items-center justify-between gap-4 rounded-sm px-2 data-[selected=true]:bg-hover"
    >
      <span className={props.also ? "" : "truncate"}>{props.name}</span>
      {props.hint && <span className="truncate text-sm text-pencil">{props.hint}</span>}
    </Command.Item>
  );
}

/** What choosing a line does: something in the app, or going somewhere, once the box is closed. */
export function useDoing(onDone: () => void) {
  const navigate = useNavigate();
  const { search } = useView();
  const doing = (action: () => void) => () => {
    onDone();
    action();
  };
  const going = (pathname: string) => doing(() => navigate({ pathname, search: keptSearch(search) }));
  return { doing, going };
}
