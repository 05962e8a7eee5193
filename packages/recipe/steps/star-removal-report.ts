import { z } from 'zod';
import { reportNumber } from './report-numbers';

/** What steps that take stars out report; nothing where they had nothing to do. */
export const starRemovalReport = z
  .object({
    stars: reportNumber,
    /** Share of their light that is left, 0 to 1; null where it was not told. */
    left: reportNumber.nullable(),
  })
  .optional();
