import type { Schemas } from "@/shared/api/client";

/** The part of a sentence that means nothing, where the rest does or where it is a sentence at all. */
export function Unclear({ said, text }: { said: Schemas["UnderstoodAnswer"] | undefined; text: string }) {
  const part = said?.not_understood;
  if (!part || (said.readings.length === 0 && part === text.trim())) return null;
  return (
    <p role="status" className="border-b border-rule px-4 py-2">
      “{part}” is not understood{said.readings.length > 0 ? ", and left out" : ""}.
    </p>
  );
}
