import { X } from 'lucide-react';
import type { ReactNode } from 'react';
import { completeStep, dismissOnboarding, type LeadStep, STEPS, useOnboardingStep } from './onboarding';

/** A word to a newcomer in the flow of the page, beside the place where something is done; gone when it is done, or when it is not wanted. */
export function Lead({ step, children }: { step: LeadStep; children: ReactNode }) {
  if (useOnboardingStep() !== step) return null;
  return (
    <aside
      aria-label={`First weave, ${STEPS.indexOf(step) + 1} of ${STEPS.length}`}
      className="m-3 flex items-start gap-2 rounded-md border border-lamp-deep bg-board px-3 py-2 text-[13px] leading-snug"
    >
      <span className="figures mt-px shrink-0 text-lamp">
        {STEPS.indexOf(step) + 1}/{STEPS.length}
      </span>
      <span className="grow">
        {children}{' '}
        <button type="button" className="text-hush underline hover:text-text" onClick={dismissOnboarding}>
          Hide tips
        </button>
      </span>
      <button
        type="button"
        aria-label="Next"
        title="Next"
        className="text-soft hover:text-text"
        onClick={() => completeStep(step)}
      >
        <X size={14} />
      </button>
    </aside>
  );
}
