import { StoredPreference, useStoredPreference } from '../ui/stored-preference';

/** What a newcomer is led through, in the order of a first weave. */
export const STEPS = ['begin', 'knots', 'beads', 'write'] as const;
export type LeadStep = (typeof STEPS)[number];

/** How many of the steps are behind one. */
const done = new StoredPreference('owl-loom-lead');

const stepAt = (count: string | null): LeadStep | undefined => STEPS[Number(count ?? 0)];

/** A step has been done, or is waved away: the next one comes. One that is not shown now changes nothing. */
export function completeStep(step: LeadStep): void {
  if (stepAt(done.get()) === step) done.set(String(STEPS.indexOf(step) + 1));
}

/** No more of them, ever. */
export const dismissOnboarding = (): void => done.set(String(STEPS.length));

/** The step that is to be shown now; none when all are done. */
export const useOnboardingStep = (): LeadStep | undefined => stepAt(useStoredPreference(done));
