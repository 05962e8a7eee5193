import type { Request, Response, Router } from 'express';
import type { z } from 'zod';
import { EVENTS, type EventName } from '@owl-loom/api/jobs';
import { type Endpoint, type EndpointKey, ENDPOINTS, type ServerReply } from '@owl-loom/api/endpoints';
import { parseOrThrow } from './http';

type Part<K extends EndpointKey, P extends 'body' | 'query'> = (typeof ENDPOINTS)[K] extends {
  readonly [_ in P]: infer S;
}
  ? S extends z.ZodType
    ? z.output<S>
    : never
  : never;

/** A request as its handler sees it. What it carries is checked when the handler asks for it. */
export interface Call<K extends EndpointKey> {
  readonly request: Request;
  readonly response: Response;
  /** @throws UserError where the body is not what this endpoint takes */
  readonly parseBody: () => Part<K, 'body'>;
  /** @throws UserError where the query is not what this endpoint takes */
  readonly parseQuery: () => Part<K, 'query'>;
}

/** Whether replies are compared with their schemas: in tests and under `./loom dev`, where a difference fails the request. */
const CHECKED = process.env.LOOM_CHECK_REPLIES === '1';

/** @throws Error where something, as it goes over the wire, does not fit its schema */
function check(what: string, schema: z.ZodType, value: unknown): void {
  const sent: unknown = value === undefined ? undefined : JSON.parse(JSON.stringify(value));
  const { error } = schema.safeParse(sent);
  if (error) throw new Error(`${what} does not fit its schema: ${error.message}`);
}

/** Sends a reply of an endpoint: JSON, or 204 where it has none. */
function sendReply<K extends EndpointKey>(response: Response, key: K, reply: ServerReply<K>): void {
  if (CHECKED) check(`The reply of ${key}`, ENDPOINTS[key].reply, reply);
  if (reply === undefined) response.status(204).end();
  else response.json(reply);
}

/**
 * Answers an endpoint.
 * @param work gives the reply; its errors become refusals
 * @param status of the reply; 200 where none is given, 204 where it has no body
 */
export function serve<K extends EndpointKey>(
  router: Router,
  key: K,
  work: (call: Call<K>) => Promise<ServerReply<K>>,
  status?: number,
): void {
  const [method, path] = key.split(' ');
  const { body, query }: Endpoint = ENDPOINTS[key];
  const part = <P extends 'body' | 'query'>(schema: z.ZodType | undefined, value: unknown) => {
    if (!schema) throw new Error(`${key} takes no such part`);
    return parseOrThrow(schema, value) as Part<K, P>;
  };
  router[method.toLowerCase() as 'get' | 'post' | 'put' | 'patch' | 'delete'](path, async (request, response) => {
    const reply = await work({
      request,
      response,
      parseBody: () => part<'body'>(body, request.body),
      parseQuery: () => part<'query'>(query, request.query),
    });
    if (status !== undefined) response.status(status);
    sendReply(response, key, reply);
  });
}

/** Sends an event on a line that is open. */
export function sendEvent<E extends EventName>(response: Response, name: E, data: z.output<(typeof EVENTS)[E]>): void {
  if (CHECKED) check(`The event ${name}`, EVENTS[name], data);
  response.write(`event: ${name}\ndata: ${JSON.stringify(data)}\n\n`);
}
