import { z } from 'zod';
import type { ErrorCode } from './errors.ts';

/** A body or a reply that is not JSON, by its media types. */
export class Media {
  constructor(readonly types: readonly string[]) {}
}
export const media = (...types: string[]) => new Media(types);
/** Events of a page that is kept up to date (server-sent events). */
export const EVENTS = media('text/event-stream');
/** Bytes as they are. */
export const BYTES = media('application/octet-stream');

/** What one route of the API takes and answers. */
export interface Route {
  /** One sentence that says what it is for. */
  readonly summary: string;
  readonly params?: z.ZodObject;
  readonly query?: z.ZodObject;
  readonly body?: z.ZodType | Media;
  /** Where it is missing, or null, the answer is empty (204). */
  readonly reply?: z.ZodType | Media;
  /** The status of a reply, where that is not 200. */
  readonly status?: 201;
  /** Bytes that a body may have, where it may be larger than 1 MB. */
  readonly largest?: number;
  /** What it may be refused with, beside `COMMON_ERRORS`. */
  readonly errors?: readonly ErrorCode[];
}

/** The routes of a feature by method and path: `GET /api/folders/:folder`. */
export type RouteMap = Readonly<Record<string, Route>>;

/** A part of the API under which the same things are read by different viewers. */
export interface ScopePath<P extends string = string, S extends z.ZodRawShape = z.ZodRawShape> {
  readonly prefix: P;
  /** The parameters in the prefix. */
  readonly params: z.ZodObject<S>;
}

/** Routes with the prefix and the parameters of a scope. */
export type Under<P extends string, S extends z.ZodRawShape, M extends RouteMap> = {
  [
    K in keyof M & string as K extends `${infer Verb} ${infer Path}` ? `${Verb} ${P}${Path}` : never
  ]: [keyof S] extends [never] ? M[K] : Omit<M[K], 'params'> & WithParams<S, M[K]>;
};
type WithParams<S extends z.ZodRawShape, R extends Route> = {
  readonly params: z.ZodObject<R extends { params: z.ZodObject<infer Own> } ? S & Own : S>;
};

/** The routes of a scope; those given begin after its prefix: `GET /folders/:folder`. */
export function under<const T extends ScopePath, const M extends RouteMap>(
  { prefix, params }: T,
  routes: M,
): Under<T['prefix'], T['params']['shape'], M> {
  const prefixed = Object.entries(routes).map(([key, route]) => [
    keyUnder(prefix, key),
    { ...route, params: params.extend(route.params?.shape ?? {}) },
  ]);
  return Object.fromEntries(prefixed) as Under<T['prefix'], T['params']['shape'], M>;
}

/** `GET /folders/:folder` under `/api/open/:token`. */
export const keyUnder = (prefix: string, key: string): string => key.replace(' ', ` ${prefix}`);

/** What a request carries, as its sender writes it. */
export type Sent<R> = ParamsOf<R> & QueryOf<R> & BodyOf<R>;

// Each written out: the compiler looks through what all routes take at each request, and through mapped types slowly.
type ParamsOf<R> = R extends { readonly params: Reads<infer I> }
  ? { readonly params: Unchanged<I> }
  : object;
type QueryOf<R> = R extends { readonly query: Reads<infer I> }
  ? object extends I
    ? { readonly query?: Unchanged<I> }
    : { readonly query: Unchanged<I> }
  : object;
type BodyOf<R> = R extends { readonly body: infer B }
  ? B extends Reads<infer I>
    ? object extends I
      ? { readonly body?: Unchanged<I> }
      : { readonly body: Unchanged<I> }
    : { readonly body: Blob }
  : object;

// A schema is known by these parts of its type: held against the whole of `ZodType`, each route would cost the compiler
// a good part of a second.
export type Reads<I> = { readonly _zod: { readonly input: I } };
export type Gives<O> = { readonly _zod: { readonly output: O } };

/** What is sent is only read. */
type Unchanged<T> = T extends object ? { readonly [K in keyof T]: Unchanged<T[K]> } : T;

/** What the answer to each route holds; null where it is empty. */
export type Replies<M> = { readonly [K in keyof M]: ReplyOf<M[K]> };
type ReplyOf<R> = R extends { readonly reply: Gives<infer O> } ? O : null;
