import type { FetchArgs } from '@reduxjs/toolkit/query/react';
import type { Body, EndpointKey, EndpointWithBody, Reply } from '@owl-loom/api/endpoints';

/** Names of the places in a path: `id` of `/targets/:id`. */
type PlacesOf<Path extends string> = Path extends `${string}:${infer Name}/${infer Rest}`
  ? Name | PlacesOf<Rest>
  : Path extends `${string}:${infer Name}`
    ? Name
    : never;

/** What a request needs beside its endpoint. */
export type RequestParts<K extends EndpointKey> = {
  readonly [Place in PlacesOf<K>]: string;
} & (K extends EndpointWithBody ? { readonly body: Body<K> } : { readonly body?: undefined }) & {
    readonly params?: Readonly<Record<string, string>>;
  };

/** What Redux Toolkit needs to know of a request: its address, and the type of its reply. */
interface Definition<K extends EndpointKey, Argument> {
  readonly query: (argument: Argument) => FetchArgs;
  readonly transformResponse: (reply: Reply<K>) => Reply<K>;
}

/** A request of one thing by its id. */
export const byId = (id: string) => ({ id });

/**
 * The definition of a request to the server, by the table of endpoints.
 * @param how what an argument of the request fills in; left out where the request needs nothing
 */
export function ask<K extends EndpointKey>(key: K): Definition<K, void>;
export function ask<K extends EndpointKey, Argument>(
  key: K,
  how: (argument: Argument) => RequestParts<K>,
): Definition<K, Argument>;
export function ask<K extends EndpointKey, Argument>(
  key: K,
  how?: (argument: Argument) => RequestParts<K>,
): Definition<K, Argument> {
  const [method, path] = key.split(' ');
  return {
    query: (argument) => {
      const asked: Readonly<Record<string, unknown>> & { body?: unknown; params?: Record<string, string> } =
        how?.(argument) ?? {};
      const { body, params, ...places } = asked;
      return {
        method,
        url: path.replace(/:(\w+)/g, (_, place: string) => encodeURIComponent(String(places[place]))),
        ...(body !== undefined && { body }),
        ...(params && { params }),
      };
    },
    transformResponse: (reply) => reply,
  };
}
