/** What each address of the app takes and answers, read off the document in which the server says so. */
import type { QueryFunction, UseQueryOptions, UseQueryResult } from "@tanstack/react-query";
import type { MaybeOptionalInit } from "openapi-fetch";
import type { paths } from "./schema";

type Method = "get" | "post" | "put" | "delete";

/** The addresses that have a method. */
type Address<M extends Method> = { [P in keyof paths]: paths[P] extends Record<M, object> ? P : never }[keyof paths];

type Taken<M extends Method, P extends Address<M>> = MaybeOptionalInit<paths[P], M>;

/** What an address answers with where nothing is refused; nothing, where it has nothing to say. */
export type AnswerOf<M extends Method, P extends Address<M>> = paths[P] extends {
  [name in M]: { responses: { 200: { content: { "application/json": infer Answer } } } };
}
  ? Answer
  : undefined;

/** Asking an address once. */
export type Calls = {
  [M in Method]: <P extends Address<M>>(
    path: P,
    ...init: undefined extends Taken<M, P> ? [init?: Taken<M, P>] : [init: Taken<M, P>]
  ) => Promise<AnswerOf<M, P>>;
};

type Options<Answer, Selected> = Omit<UseQueryOptions<Answer, Error, Selected>, "queryKey" | "queryFn">;
type Rest<M extends Method, P extends Address<M>, Selected> =
  undefined extends Taken<M, P>
    ? [init?: Taken<M, P>, options?: Options<AnswerOf<M, P>, Selected>]
    : [init: Taken<M, P>, options?: Options<AnswerOf<M, P>, Selected>];

/** Reading an address, and reading it again after every change. */
export interface Queries {
  useQuery<M extends Method, P extends Address<M>, Selected = AnswerOf<M, P>>(
    method: M,
    path: P,
    ...rest: Rest<M, P, Selected>
  ): UseQueryResult<Selected, Error>;
  queryOptions<M extends Method, P extends Address<M>, Selected = AnswerOf<M, P>>(
    method: M,
    path: P,
    ...rest: Rest<M, P, Selected>
  ): Options<AnswerOf<M, P>, Selected> & { queryKey: readonly unknown[]; queryFn: QueryFunction<AnswerOf<M, P>> };
}
