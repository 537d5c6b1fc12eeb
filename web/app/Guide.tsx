import { X } from 'lucide-react';
import { Link } from 'react-router';
import { useCrew } from '../api/data.ts';
import { Button } from '../ui/Button.tsx';
import { setPreferences, usePreferences } from '../ui/preferences.ts';
import { GUIDE } from './helpTexts.ts';
import { fieldState } from './find/useGoToField.ts';

const goTo = (guideStep: number | null): void => {
  setPreferences({ guideStep });
};

/** Six first steps, beside the view that they are about. It begins by itself in the demo, and never comes back by itself. */
export function Guide() {
  const { guideStep } = usePreferences();
  const { data: crew } = useCrew();
  // Only the demo has a crew; a shop at work is not talked to.
  const at = guideStep !== null && guideStep < 0 ? (crew?.there === true ? 0 : null) : guideStep;
  const step = at === null ? undefined : GUIDE[at];
  if (at === null || !step) return null;
  const last = at === GUIDE.length - 1;
  return (
    <section
      aria-label="First steps"
      className="fixed right-3 bottom-11 z-20 w-[min(340px,calc(100vw-24px))] rounded-md border border-ink bg-card p-3 shadow-lg max-phone:bottom-28"
    >
      <div className="flex items-start gap-2">
        <p className="min-w-0 flex-1 font-semibold">
          {at + 1} of {GUIDE.length}: {step.title}
        </p>
        <button
          type="button"
          aria-label="End the first steps"
          className="rounded p-0.5 text-soft hover:text-ink"
          onClick={() => {
            goTo(null);
          }}
        >
          <X size={16} aria-hidden="true" />
        </button>
      </div>
      <p className="mt-1 text-soft">{step.text}</p>
      <div className="mt-2 flex items-center gap-2">
        <Link
          to={step.path}
          state={fieldState(step.field)}
          className="rounded px-1 py-1 font-medium text-tide underline-offset-2 hover:underline"
        >
          Show me
        </Link>
        <span className="flex-1" />
        {at > 0 && (
          <Button
            kind="quiet"
            onClick={() => {
              goTo(at - 1);
            }}
          >
            Back
          </Button>
        )}
        <Button
          kind="main"
          onClick={() => {
            goTo(last ? null : at + 1);
          }}
        >
          {last ? 'Done' : 'Next'}
        </Button>
      </div>
    </section>
  );
}
