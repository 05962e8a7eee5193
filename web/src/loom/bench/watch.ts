import { KeptChoice, useKept } from '../../ui/kept-choice';

const hidden = new KeptChoice('owl-loom-watch-hidden');

/** Whether it is said of steps what to look for; it is, until someone shuts it. */
export const useWatchShown = (): boolean => useKept(hidden) !== 'yes';

export const showWatch = (shown: boolean): void => hidden.set(shown ? 'no' : 'yes');
