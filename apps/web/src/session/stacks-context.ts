import { createContext, useContext } from 'react';
import type { StackRow } from '@owl-loom/api/stacks';

/** The open target's stacks. */
export const StacksContext = createContext<readonly StackRow[]>([]);
export const useStacks = (): readonly StackRow[] => useContext(StacksContext);
