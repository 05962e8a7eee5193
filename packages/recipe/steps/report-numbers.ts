import { z } from 'zod';

/** A number that was measured: one that could not be measured may be none, or without bounds. */
export const reportNumber = z.custom<number>((value) => typeof value === 'number');
export const reportNumbers = z.array(reportNumber);
