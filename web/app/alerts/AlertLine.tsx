import { Bell, OctagonAlert } from 'lucide-react';
import { Link } from 'react-router';
import { Button } from '../../ui/Button.tsx';
import { FlyOut } from '../../ui/FlyOut.tsx';
import { CallChoices } from './CallChoices.tsx';
import { useAlerts } from './useAlerts.ts';

/** Over every view until it is seen: the worst that stands now, what to do first, and how many more there are. */
export function AlertLine() {
  const { unseen, seen } = useAlerts();
  const [first] = unseen;
  return (
    <div aria-live="assertive" data-testid="alert-line">
      {first && (
        <div
          className={`flex flex-wrap items-center gap-x-3 gap-y-1 border-b px-4 py-1.5 ${first.kind === 'fault' ? 'border-stop bg-stop/15' : 'border-wait bg-wait/15'}`}
        >
          <OctagonAlert
            size={18}
            aria-hidden="true"
            className={`shrink-0 ${first.kind === 'fault' ? 'text-stop' : 'text-wait'}`}
          />
          <p className="min-w-0 flex-1 max-phone:basis-3/4">
            <strong className="font-semibold">{first.text}.</strong> {first.way}
            {unseen.length > 1 && <span> {unseen.length - 1} more after this.</span>}
          </p>
          <Link
            to={`/floor?printer=${first.printerId}`}
            className="rounded px-1.5 py-0.5 font-medium text-tide underline-offset-2 hover:underline"
          >
            Open
          </Link>
          <Button
            className="!h-7"
            onClick={() => {
              seen(first);
            }}
          >
            Seen
          </Button>
          <Calls />
        </div>
      )}
    </div>
  );
}

/** Whether a sound or a notification of the desktop calls a person who looks elsewhere. */
export function Calls() {
  return (
    <FlyOut
      label="Sound and notifications"
      title="Sound and notifications"
      button={<Bell size={17} aria-hidden="true" />}
      buttonClass="flex items-center rounded p-1 text-soft hover:bg-rule/50 hover:text-ink"
      panelClass="w-72 p-3"
    >
      {() => (
        <>
          <p className="mb-1 text-soft">When a printer stops:</p>
          <CallChoices />
        </>
      )}
    </FlyOut>
  );
}
