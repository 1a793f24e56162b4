import { type FormEvent, useState } from "react";
import { Button } from "@/shared/kit/Button";
import { Field } from "@/shared/kit/fields/Field";
import type { Due, SettleLine } from "./useSettle";

interface Props {
  line: Due;
  today: string;
  onSend: (line: SettleLine) => void;
  onClose: () => void;
}

/** Move one occurrence to a later day. */
export function PutOff({ line, today, onSend, onClose }: Props) {
  const [to, setTo] = useState(line.put_off_to);
  const onSubmit = (event: FormEvent) => {
    event.preventDefault();
    onSend({ flow: line.flow, nominal: line.nominal, do: "put_off", to, part: false });
  };
  return (
    <form
      aria-label={`Put ${line.name} off`}
      onSubmit={onSubmit}
      onKeyDown={(event) => event.key === "Escape" && onClose()}
      className="mb-3 ml-7 flex flex-wrap items-end gap-3 border-l-2 border-copper pl-3"
    >
      <Field label="To" className="w-44">
        {(ids) => (
          <input
            {...ids}
            // biome-ignore lint/a11y/noAutofocus: it was asked for just now, by key or button
            autoFocus
            type="date"
            min={today}
            required
            value={to}
            onChange={(event) => setTo(event.target.value)}
            className="field"
          />
        )}
      </Field>
      <Button look="main" type="submit">
        Put off
      </Button>
      <Button onClick={onClose}>Cancel</Button>
    </form>
  );
}
