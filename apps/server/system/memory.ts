import { freemem, totalmem } from 'node:os';

/** Bytes of memory that Owl Loom may have at most: a container may be given less than the machine has. */
export const totalMemory = (): number => Math.min(totalmem(), process.constrainedMemory() || totalmem());

/** Bytes of it that nobody has taken. */
export const freeMemory = (): number => Math.min(freemem(), process.availableMemory());
