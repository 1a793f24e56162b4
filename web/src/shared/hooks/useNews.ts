import { useQuery } from "@tanstack/react-query";
import { useEffect } from "react";
import { api, type Schemas } from "@/shared/api/client";

export type News = Schemas["SinceAnswer"];

const KEY = "lowest point seen";

/** Whether nobody has looked at this window since what is told was last told. */
let wasAway = true;

/**
 * What became of the lowest point while this window was not looked at. What is changed while one looks is seen anyway,
 * and only remembered.
 */
export function useNews() {
  useEffect(() => {
    const onChange = () => {
      if (document.visibilityState === "hidden") wasAway = true;
    };
    document.addEventListener("visibilitychange", onChange);
    return () => document.removeEventListener("visibilitychange", onChange);
  }, []);
  return useQuery({
    queryKey: ["news"],
    queryFn: async ({ client, queryKey }): Promise<News | null> => {
      const news = await api.get("/api/history/since", { params: { query: seen() } });
      remember(news);
      const newest = wasAway ? news : (client.getQueryData<News | null>(queryKey) ?? null);
      wasAway = false;
      return newest;
    },
  });
}

// A browser may keep nothing: then nothing is told.
function seen() {
  try {
    return JSON.parse(localStorage.getItem(KEY) ?? "{}") as Record<string, string>;
  } catch {
    return {};
  }
}

function remember({ household, step, lowest }: News) {
  try {
    localStorage.setItem(KEY, JSON.stringify({ household, step, ...lowest }));
  } catch {
    // It is not kept.
  }
}
