import { useMutation } from "@tanstack/react-query";
import { type FormEvent, useState } from "react";
import { api } from "@/shared/api/client";
import { useSave } from "@/shared/api/hooks";
import { Field } from "@/shared/kit/fields/Field";

/** A bill a line, one after the other by key: what it is, how much, on which day. */
export function BillLine() {
  const save = useSave();
  const [text, setText] = useState("");
  const add = useMutation({
    mutationFn: async (line: string) => {
      const read = await api.post("/api/flows/bill-line", { body: { text: line } });
      await save.mutateAsync(read.changes);
      return read.sentence;
    },
    // One after the other, however fast they are written; what was refused comes back where nothing else is begun.
    scope: { id: "bill-line" },
    onMutate: () => setText(""),
    onError: (_, line) => setText((begun) => begun || line),
  });
  const onSubmit = (event: FormEvent) => {
    event.preventDefault();
    if (text.trim()) add.mutate(text);
  };
  const problem = add.error?.message;
  return (
    <form className="w-full pl-10" onSubmit={onSubmit}>
      <Field label="Or one a line: what, how much, which day, Enter" problem={problem}>
        {(ids) => (
          <input
            {...ids}
            value={text}
            onChange={(event) => {
              setText(event.target.value);
              if (add.error) add.reset();
            }}
            placeholder="Rent 1150 1st"
            autoComplete="off"
            className="field max-w-md"
          />
        )}
      </Field>
      <p aria-live="polite" className="min-h-6 text-sm">
        {add.data && !problem && `Added ${add.data}.`}
      </p>
    </form>
  );
}
