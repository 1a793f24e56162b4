import { Check, ChevronDown } from "lucide-react";
import { Popover } from "radix-ui";
import { type KeyboardEvent, type RefObject, useEffect, useId, useRef, useState } from "react";
import type { FieldIds } from "./Field";

export interface Option {
  value: string;
  label: string;
}

interface Props extends Partial<FieldIds> {
  value: string;
  onChange: (value: string) => void;
  options: readonly Option[];
  label?: string;
  placeholder?: string;
  className?: string;
}

/** One of several, from a list that opens. The page stays readable for everybody while it is open. */
export function Select({ value, onChange, options, label, placeholder, className = "field", ...ids }: Props) {
  const [isOpen, setOpen] = useState(false);
  const list = useId();
  const trigger = useRef<HTMLButtonElement>(null);
  useStaysInSight(trigger, isOpen);
  const search = useTyped();
  const typedAt = useRef(-PAUSE);
  const chosen = options.find((option) => option.value === value);
  return (
    <Popover.Root open={isOpen} onOpenChange={setOpen}>
      <Popover.Trigger
        {...ids}
        role="combobox"
        aria-haspopup="listbox"
        aria-expanded={isOpen}
        aria-controls={isOpen ? list : undefined}
        aria-label={label}
        ref={trigger}
        onKeyDown={(event) => {
          // Other signs are the page's own, such as the one that finds.
          const isLetter = /^[\p{L}\p{N}]$/u.test(event.key) && !event.ctrlKey && !event.metaKey && !event.altKey;
          // A gap within a name that is being typed opens nothing.
          const isGap = event.key === " " && event.timeStamp - typedAt.current < PAUSE;
          if (isLetter || isGap) {
            typedAt.current = event.timeStamp;
            const next = options[search(event.key, event.timeStamp, options, options.indexOf(chosen as Option))];
            if (next && next.value !== value) onChange(next.value);
          } else if (event.key === "ArrowDown" || event.key === "ArrowUp") setOpen(true);
          else return;
          event.preventDefault();
          event.stopPropagation();
        }}
        className={`inline-flex items-center justify-between gap-2 text-left ${className}`}
      >
        <span className={`min-w-0 [overflow-wrap:anywhere] ${chosen ? "" : "text-pencil"}`}>
          {chosen?.label ?? placeholder ?? "Choose"}
        </span>
        <ChevronDown size={16} aria-hidden className="shrink-0 text-pencil" />
      </Popover.Trigger>
      <Popover.Portal>
        <Popover.Content
          aria-label={label ?? "Choose one"}
          align="start"
          sideOffset={4}
          collisionPadding={8}
          onOpenAutoFocus={(event) => event.preventDefault()}
          // Who left by Tab is elsewhere by now.
          onCloseAutoFocus={(event) => document.activeElement !== document.body && event.preventDefault()}
          className="z-50 min-w-[var(--radix-popover-trigger-width)] rounded-sm border border-rule-strong bg-sheet shadow-lg"
        >
          <Options
            id={list}
            label={label ?? "Choose one"}
            options={options}
            value={value}
            onChoose={(next) => {
              setOpen(false);
              if (next !== value) onChange(next);
            }}
            onLeave={(isBack) => trigger.current && nextTo(trigger.current, isBack)?.focus()}
          />
        </Popover.Content>
      </Popover.Portal>
    </Popover.Root>
  );
}

interface OptionsProps {
  id: string;
  label: string;
  options: readonly Option[];
  value: string;
  onChoose: (value: string) => void;
  onLeave: (isBack: boolean) => void;
}

/** What comes later to the page above a field must not push its open list off the window. */
function useStaysInSight(field: RefObject<HTMLElement | null>, isOpen: boolean) {
  useEffect(() => {
    if (!isOpen || !field.current) return;
    const observer = new IntersectionObserver(([seen]) => {
      if (seen && !seen.isIntersecting) seen.target.scrollIntoView({ block: "nearest" });
    });
    observer.observe(field.current);
    return () => observer.disconnect();
  }, [field, isOpen]);
}

/** Which option letters mean that follow each other quickly: the same one again goes on to the next. */
function useTyped() {
  const typed = useRef({ text: "", at: 0 });
  return (key: string, now: number, options: readonly Option[], at: number) => {
    const letter = key.toLowerCase();
    const before = now - typed.current.at < PAUSE ? typed.current.text : "";
    const text = before === letter ? letter : before + letter;
    typed.current = { text, at: now };
    const begins = (option: Option) => option.label.toLowerCase().startsWith(text);
    const later = options.findIndex((option, place) => place > at && text.length === 1 && begins(option));
    return later >= 0 ? later : options.findIndex(begins);
  };
}

/** How long letters belong together, in milliseconds. */
const PAUSE = 800;

const REACHED = "a[href],button:not(:disabled),input:not(:disabled),textarea,select,[tabindex]:not([tabindex='-1'])";

/** What has the focus after, or before, an element when one goes on by Tab. */
function nextTo(element: HTMLElement, isBack: boolean): HTMLElement | undefined {
  const all = [...document.querySelectorAll<HTMLElement>(REACHED)].filter(
    (place) =>
      place === element ||
      (place.tabIndex >= 0 &&
        place.getClientRects().length > 0 &&
        !place.closest("[data-radix-popper-content-wrapper]")),
  );
  return all[all.indexOf(element) + (isBack ? -1 : 1)];
}

/** The list itself has the focus; arrows, Home, End and letters move in it. */
function Options({ id, label, options, value, onChoose, onLeave }: OptionsProps) {
  const [at, setAt] = useState(() =>
    Math.max(
      0,
      options.findIndex((option) => option.value === value),
    ),
  );
  const search = useTyped();
  const typedAt = useRef(0);
  const onKeyDown = (event: KeyboardEvent) => {
    const moves = new Map([
      ["ArrowDown", Math.min(options.length - 1, at + 1)],
      ["ArrowUp", Math.max(0, at - 1)],
      ["Home", 0],
      ["End", options.length - 1],
      ["PageDown", Math.min(options.length - 1, at + 10)],
      ["PageUp", Math.max(0, at - 10)],
    ]);
    const next = moves.get(event.key);
    const isTyping = event.key.length === 1 && (event.key !== " " || event.timeStamp - typedAt.current < PAUSE);
    if (event.ctrlKey || event.metaKey || event.altKey) return;
    if (next !== undefined) setAt(next);
    else if (event.key === "Enter" || (event.key === " " && !isTyping)) onChoose(options[at]?.value ?? value);
    else if (event.key === "Tab") {
      onChoose(options[at]?.value ?? value);
      onLeave(event.shiftKey);
    } else if (isTyping) {
      typedAt.current = event.timeStamp;
      const matchAt = search(event.key, event.timeStamp, options, at);
      if (matchAt >= 0) setAt(matchAt);
    } else return;
    event.preventDefault();
    event.stopPropagation();
  };
  return (
    <div
      id={id}
      role="listbox"
      aria-label={label}
      aria-activedescendant={`${id}-${at}`}
      tabIndex={0}
      ref={(element) => element?.focus({ preventScroll: true })}
      onKeyDown={onKeyDown}
      className="max-h-[min(24rem,var(--radix-popover-content-available-height))] overflow-y-auto p-1 outline-none"
    >
      {options.map((option, place) => (
        // biome-ignore lint/a11y/useKeyWithClickEvents: the list has the keys
        <div
          key={option.value}
          id={`${id}-${place}`}
          role="option"
          tabIndex={-1}
          aria-selected={option.value === value}
          ref={(element) => {
            if (place === at) element?.scrollIntoView?.({ block: "nearest" });
          }}
          onPointerMove={() => setAt(place)}
          onClick={() => onChoose(option.value)}
          className={`flex min-h-9 cursor-default items-center justify-between gap-4 rounded-sm px-2.5 ${place === at ? "bg-hover" : ""}`}
        >
          {option.label}
          {option.value === value && <Check size={16} aria-hidden />}
        </div>
      ))}
    </div>
  );
}
