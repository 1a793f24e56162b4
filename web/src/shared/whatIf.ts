/** The what-if that is looked at, from the address: while there is one, edits go into it, and every figure has it. */
import { useEffect, useRef } from "react";
import { useNavigate } from "react-router";
import { api, type ChangeRequest, type Schemas, server } from "./api/client";
import { queries } from "./api/queries";
import { useToast } from "./kit/Toast";
import { useView } from "./view";

type WhatIf = Schemas["WhatIfModel"];

export function useWhatIfs() {
  return server.useQuery("get", "/api/what-ifs");
}

/** Whenever another plan is looked at, by whatever way, what is told is read afresh. */
export function useFreshFigures() {
  const id = new URLSearchParams(useView().search).get("what_if");
  const before = useRef(id);
  useEffect(() => {
    if (before.current === id) return;
    before.current = id;
    void queries.invalidateQueries();
  }, [id]);
}

/** The one that is looked at, and how one is begun, chosen and left. */
export function useWhatIf() {
  const view = useView();
  const toast = useToast();
  const navigate = useNavigate();
  const list = useWhatIfs().data?.what_ifs ?? [];
  const id = new URLSearchParams(view.search).get("what_if");
  const choose = (next: string | null) => {
    const search = new URLSearchParams(window.location.search);
    if (next === null) search.delete("what_if");
    else search.set("what_if", next);
    search.delete("slip");
    navigate({ search: search.toString() });
  };
  const begin = async (name: string, changes: ChangeRequest[]) => {
    try {
      const body = { name: free(name, list), changes };
      const made = await api.post("/api/what-ifs", { body });
      await queries.invalidateQueries({ queryKey: ["what-ifs"] });
      choose(made.id);
    } catch (error) {
      toast((error as Error).message);
    }
  };
  return { shown: list.find((whatIf) => whatIf.id === id) ?? null, list, choose, begin };
}

/** A name that no other has. */
function free(name: string, list: WhatIf[]): string {
  const taken = new Set(list.map((whatIf) => whatIf.name.toLowerCase()));
  const short = name.slice(0, 180);
  for (let number = 1; ; number += 1) {
    const tried = number === 1 ? short : `${short} (${number})`;
    if (!taken.has(tried.toLowerCase())) return tried;
  }
}
