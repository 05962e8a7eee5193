import { z } from 'zod';
import { exportRow, newExport } from './exports';
import { JOBS, jobRow } from './jobs';
import { backupSchedule, password, scheduleChange, serverStatus, sessionRow, trashedRow } from './maintenance';
import {
  newPalette,
  newPattern,
  palette,
  patternRow,
  replacementRow,
  savedPalette,
  savedPattern,
  sheet,
} from './palettes';
import {
  cover,
  coverQuery,
  measureBody,
  measured,
  newRecipe,
  proof,
  proofRequest,
  recipeRow,
  recipeSave,
  recipeWithBody,
  stateLabel,
  stateRow,
  stateWithBody,
} from './recipes';
import { edgeChange, inbox, inboxChoice, inboxResult, scaleChange, stackChange, stackRow, taken } from './stacks';
import { newSwatch, swatchChange, swatchRow, swatchWithBody } from './swatches';
import { targetCard, targetName } from './targets';
import { begun, id, list, nothing } from './wire';

/** What a request carries and what it is answered. */
export interface Endpoint {
  readonly body?: z.ZodType;
  readonly query?: z.ZodType;
  readonly reply: z.ZodType;
}

/** Every request whose answer is JSON or nothing, by method and path under `/api`. */
export const ENDPOINTS = {
  'GET /health': { reply: z.object({ ok: z.literal(true) }) },

  'POST /session': { body: password, reply: nothing },
  'DELETE /session': { reply: nothing },
  'GET /sessions': { reply: list(sessionRow) },
  'DELETE /sessions': { reply: nothing },

  'GET /targets': { reply: list(targetCard) },
  'POST /targets': { body: targetName, reply: targetCard },
  'GET /targets/:id': { reply: targetCard },
  'PATCH /targets/:id': { body: targetName, reply: targetCard },
  'DELETE /targets/:id': { reply: nothing },

  'GET /targets/:id/stacks': { reply: list(stackRow) },
  /** Lines of the file's header. */
  'GET /stacks/:id/header': { reply: list(z.string()) },
  'PATCH /stacks/:id': { body: stackChange, reply: stackRow },
  'POST /stacks/:id/edges': { body: edgeChange, reply: begun },
  'POST /targets/:id/scale': { body: scaleChange, reply: z.object({ jobs: list(id) }) },
  'DELETE /stacks/:id': { reply: nothing },
  'PUT /targets/:id/uploads': {
    query: z.object({ name: z.string().min(1).max(255), replace: id.optional() }),
    reply: taken,
  },
  'GET /inbox': { reply: inbox },
  'POST /targets/:id/inbox': { body: inboxChoice, reply: inboxResult },
  'GET /targets/:id/renewals': { reply: list(replacementRow) },
  'DELETE /renewals/:id': { reply: nothing },

  'GET /targets/:id/recipes': { reply: list(recipeRow) },
  'POST /targets/:id/recipes': { body: newRecipe, reply: recipeRow },
  'GET /recipes/:id': { reply: recipeWithBody },
  'PUT /recipes/:id': { body: recipeSave, reply: recipeRow },
  'DELETE /recipes/:id': { reply: nothing },
  'GET /recipes/:id/cover': { query: coverQuery, reply: cover },
  'POST /targets/:id/measure': { body: measureBody, reply: measured },
  'POST /targets/:id/proof': { body: proofRequest, reply: proof },
  'GET /recipes/:id/states': { reply: list(stateRow) },
  'GET /states/:id': { reply: stateWithBody },
  'PATCH /states/:id': { body: stateLabel, reply: nothing },
  'POST /states/:id/picture': { reply: z.object({ picture: z.string().nullable() }) },

  'GET /targets/:id/palettes': { reply: sheet },
  'POST /targets/:id/palettes': { body: newPalette, reply: savedPalette },
  'POST /targets/:id/sheet': { reply: z.object({ weaving: z.boolean() }) },
  'GET /palettes': { reply: list(palette) },
  'POST /palettes': { body: newPalette, reply: savedPalette },
  'DELETE /palettes/:id': { reply: nothing },
  'GET /patterns': { reply: list(patternRow) },
  'POST /patterns': { body: newPattern, reply: savedPattern },
  'DELETE /patterns/:id': { reply: nothing },

  'GET /targets/:id/swatches': { reply: list(swatchRow) },
  'POST /targets/:id/swatches': { body: newSwatch, reply: swatchRow },
  'GET /swatches/:id': { reply: swatchWithBody },
  'PATCH /swatches/:id': { body: swatchChange, reply: swatchRow },
  'POST /swatches/:id/weave': { reply: swatchRow },
  'DELETE /swatches/:id': { reply: nothing },

  'GET /targets/:id/exports': { reply: list(exportRow) },
  'POST /targets/:id/exports': { body: newExport, reply: begun },
  'POST /exports/:id/again': { reply: begun },
  'DELETE /exports/:id': { reply: nothing },

  'GET /jobs': { query: z.object({ target: id.optional() }), reply: list(jobRow) },
  'GET /jobs/:id': { reply: jobRow },
  'POST /jobs/:id/cancel': { reply: nothing },

  'GET /trash': { reply: list(trashedRow) },
  /** The name that a stack has now, where another one took its name meanwhile. */
  'POST /trash/:kind/:id/back': { reply: z.object({ name: z.string().optional() }) },
  'DELETE /trash/:kind/:id': { reply: nothing },
  'DELETE /trash': { reply: z.object({ gone: z.int() }) },

  'PUT /archives': { query: z.object({ name: z.string().min(1).max(255) }), reply: begun },
  'POST /targets/:id/archive': { body: JOBS.archive.payload.prefault({}), reply: begun },
  'GET /house': { reply: serverStatus },
  'POST /verify': { body: JOBS.verify.payload.prefault({}), reply: begun },
  'POST /backups': { body: JOBS.backup.payload, reply: begun },
  'POST /backups/places': { body: JOBS.backup.payload, reply: nothing },
  'GET /backups/schedule': { reply: backupSchedule },
  'PUT /backups/schedule': { body: scheduleChange, reply: backupSchedule },
} as const satisfies Record<string, Endpoint>;

export type EndpointKey = keyof typeof ENDPOINTS;

/** The reply to a request as the page reads it. */
export type Reply<K extends EndpointKey> = z.input<(typeof ENDPOINTS)[K]['reply']>;
/** The reply as the server gives it: with dates in place of times as text. */
export type ServerReply<K extends EndpointKey> = z.output<(typeof ENDPOINTS)[K]['reply']>;

/** Endpoints that take a body. */
export type EndpointWithBody = {
  [K in EndpointKey]: (typeof ENDPOINTS)[K] extends { body: z.ZodType } ? K : never;
}[EndpointKey];
/** What is sent with a request. */
export type Body<K extends EndpointWithBody> = z.input<(typeof ENDPOINTS)[K]['body']>;
