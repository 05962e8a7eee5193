import type { Router } from 'express';
import { z } from 'zod';
import { PICTURE_NAME, readThumbnail } from '../thumbnails/read-thumbnail';
import { FOR_GOOD, parseOrThrow, route } from './http';

const named = z.object({ name: z.string().regex(PICTURE_NAME) });

/** Serves the pictures of a folder under `path/:name`; a name always gives the same bytes. */
export function serveThumbnails(router: Router, path: string, folder: string): void {
  router.get(
    `${path}/:name`,
    route(async (request, response) => {
      const { name } = parseOrThrow(named, request.params);
      const bytes = await readThumbnail(folder, name);
      response.set({ 'Content-Type': 'image/jpeg', ...FOR_GOOD }).end(bytes);
    }),
  );
}
