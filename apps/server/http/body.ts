import type { IncomingMessage, ServerResponse } from 'node:http';
import express, { type RequestHandler } from 'express';
import { UserError } from '@owl-loom/base/errors';
import { MOST_LISTS, tooMuchIn } from '@owl-loom/base/json';
import { LIMITS } from '@owl-loom/recipe/limits';
import { NESTED } from './http';

/** @throws UserError where a body holds too many lists, or they lie too deep in each other */
function checkLists(_request: IncomingMessage, _response: ServerResponse, body: Uint8Array): void {
  const much = tooMuchIn(body, { lists: MOST_LISTS, nested: NESTED });
  if (much === 'nested') throw new UserError('bad-request', 'This request is nested too deeply to be read.');
  if (much === 'lists') throw new UserError('too-large', 'This request has too many lists. Send less at once.');
}

/** Reads bodies: as large as the largest recipe, with a little room for what stands about it. */
export const jsonBodies = (): RequestHandler => express.json({ limit: LIMITS.bytes + 64 * 1024, verify: checkLists });
