import { useMutation } from "@tanstack/react-query";
import { useRef, useState } from "react";
import { api, type Schemas } from "@/shared/api/client";
import { useRefresh } from "@/shared/api/hooks";
import { Button } from "@/shared/kit/Button";
import { FileInput } from "@/shared/kit/fields/FileInput";
import { useToast } from "@/shared/kit/Toast";
import { DifferenceLine } from "./DifferenceLine";

type Plan = Schemas["PlanDocument"];

/** A plan document in: first what it would change, then, if that is meant, in the household's place. */
export function BringPlan() {
  const file = useRef<HTMLInputElement>(null);
  const [plan, setPlan] = useState<Plan | null>(null);
  const refresh = useRefresh();
  const toast = useToast();
  const look = useMutation({
    mutationFn: async (chosen: File) => {
      const read = await readPlan(chosen);
      const preview = await api.post("/api/plan/look", { body: read });
      setPlan(read);
      return preview;
    },
    onMutate: () => setPlan(null),
  });
  const put = useMutation({
    mutationFn: (body: Plan) => api.put("/api/plan", { body }),
    onSuccess: () => {
      toast("The household is as that plan has it. Undo takes it back.");
      setPlan(null);
      look.reset();
      void refresh();
    },
  });
  const problem = look.error ?? put.error;
  return (
    <>
      <FileInput
        label="A whole plan"
        ref={file}
        accept="application/json,.json"
        onFile={(chosen) => look.mutate(chosen)}
      />
      <Button disabled={look.isPending} onClick={() => file.current?.click()}>
        {look.isPending ? "Reading…" : "Bring a whole plan…"}
      </Button>
      {problem && (
        <p role="alert" className="mt-1 text-rust">
          {problem.message}
        </p>
      )}
      {look.data && plan && (
        <section aria-label="What it would change" className="mt-2 border-l-2 border-copper pl-3">
          {look.data.differences.length === 0 ? (
            <p>It is what is there already: nothing would change.</p>
          ) : (
            <>
              <p>If it takes the household’s place:</p>
              <ul>
                {look.data.differences.map((oneDifference) => (
                  <DifferenceLine key={oneDifference.kind} difference={oneDifference} />
                ))}
              </ul>
              <p className="mt-2 flex flex-wrap gap-2">
                <Button look="main" disabled={put.isPending} onClick={() => put.mutate(plan)}>
                  {put.isPending ? "Replacing…" : "Replace the household by it"}
                </Button>
                <Button onClick={() => setPlan(null)}>Leave it</Button>
              </p>
            </>
          )}
        </section>
      )}
    </>
  );
}

async function readPlan(file: File): Promise<Plan> {
  try {
    return JSON.parse(await file.text()) as Plan;
  } catch {
    throw new Error(`“${file.name}” is no plan that was written by “Everything out”: it cannot be read.`);
  }
}
