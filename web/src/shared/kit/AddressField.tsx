import { type InputHTMLAttributes, useEffect, useRef, useState } from "react";

// Long enough for the next letter of somebody who types fast, short enough not to be noticed.
const PAUSE = 250;

interface Props extends Omit<InputHTMLAttributes<HTMLInputElement>, "value" | "onChange"> {
  /** What the address holds. */
  held: string;
  onSettled: (text: string) => void;
}

/** A field whose text ends up in the address. What is typed is its own; the address follows when typing pauses. */
export function AddressField({ held, onSettled, ...rest }: Props) {
  const [text, setText] = useState(held);
  const sent = useRef(held);
  const tell = useRef(onSettled);
  tell.current = onSettled;
  useEffect(() => {
    // The address changed by itself: by the back button, or a link.
    if (held !== sent.current) {
      sent.current = held;
      setText(held);
    }
  }, [held]);
  useEffect(() => {
    if (text === sent.current) return;
    const timer = setTimeout(() => {
      sent.current = text;
      tell.current(text);
    }, PAUSE);
    return () => clearTimeout(timer);
  }, [text]);
  return <input {...rest} value={text} onChange={(event) => setText(event.target.value)} />;
}
