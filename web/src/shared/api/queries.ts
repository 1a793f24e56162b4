import { MutationCache, QueryClient } from "@tanstack/react-query";

let asked = 0;

/** How many changes were asked for so far: an answer speaks of the present only if none was asked for after it. */
export const changesAsked = () => asked;

export const queries = new QueryClient({
  defaultOptions: {
    // The app is on this computer, or in this house: it is asked also where the network beyond has gone.
    queries: { staleTime: 30_000, retry: 1, refetchOnWindowFocus: true, networkMode: "always" },
    mutations: { networkMode: "always" },
  },
  mutationCache: new MutationCache({
    onMutate: () => {
      asked += 1;
    },
  }),
});
