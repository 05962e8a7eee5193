import { StoredPreference, useStoredPreference } from '../../ui/stored-preference';

const hidden = new StoredPreference('owl-loom-watch-hidden');

/** Whether it is said of steps what to look for; it is, until someone shuts it. */
export const useHintsShown = (): boolean => useStoredPreference(hidden) !== 'yes';

export const showWatch = (shown: boolean): void => hidden.set(shown ? 'no' : 'yes');
