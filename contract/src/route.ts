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
export type Sent<R extends Route> = Part<R, 'params'> & Part<R, 'query'> & Part<R, 'body'>;

type Part<R extends Route, Name extends 'params' | 'query' | 'body'> = R extends {
  readonly [K in Name]: infer Z;
}
  ? Z extends z.ZodType
    ? object extends z.input<Z>
      ? { readonly [K in Name]?: Unchanged<z.input<Z>> }
      : { readonly [K in Name]: Unchanged<z.input<Z>> }
    : { readonly [K in Name]: Blob }
  : object;

/** What is sent is only read. */
type Unchanged<T> = T extends object ? { readonly [K in keyof T]: Unchanged<T[K]> } : T;

/** What the answer to it holds; null where it is empty. */
export type ReplyOf<R extends Route> = R extends { reply: infer Z extends z.ZodType }
  ? z.output<Z>
  : null;
