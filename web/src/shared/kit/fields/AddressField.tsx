import type { InputHTMLAttributes } from "react";
import { useAddressState } from "@/shared/hooks/useAddressState";

interface Props extends Omit<InputHTMLAttributes<HTMLInputElement>, "value" | "onChange"> {
  /** What the address holds. */
  saved: string;
  onSettled: (text: string) => void;
}

/** A field whose text ends up in the address. */
export function AddressField({ saved, onSettled, ...rest }: Props) {
  const [text, setText] = useAddressState(saved, onSettled);
  return <input {...rest} value={text} onChange={(event) => setText(event.target.value)} />;
}
