import { useState } from 'react';
import { sendJson } from '../../api/client.ts';
import { useNotice } from '../../app/notice.tsx';
import { Button } from '../../ui/Button.tsx';
import { LengthInput } from '../../ui/fields/LengthInput.tsx';
import { number } from '../../ui/text/number.ts';
import { Section } from '../../ui/Sheet.tsx';
import type { Heads } from './useHeads.ts';
import { May } from '../../people/May.tsx';

type Feed = Heads['feeds'][number];

/** How far each stock that is loaded is fed: two bars are printed 500 mm apart, measured, and the advance is divided by what comes out. */
export function FeedSection({ heads }: { readonly heads: Heads }) {
  if (heads.feeds.length === 0) return null;
  return (
    <Section title="Feed">
      {heads.feeds.map((feed) => (
        <FeedOf key={feed.stockId} heads={heads} feed={feed} />
      ))}
    </Section>
  );
}

function FeedOf({ heads, feed }: { readonly heads: Heads; readonly feed: Feed }) {
  const { stockId, stockName, factor, toMeasure, tensionChanged } = feed;
  const [measuredMm, setMeasuredMm] = useState<number | null>(null);
  const { tell, say } = useNotice();
  const print = (): void => {
    const what = { kind: 'feed' as const, stockId };
    sendJson('POST', '/api/care', { printerId: heads.printerId, what }).then(() => {
      say(`Feed check of ${heads.name} on ${stockName}: as soon as it is free`);
    }, tell);
  };
  const keep = (): void => {
    if (measuredMm === null) return;
    sendJson('POST', `/api/printers/${heads.printerId}/feed`, { stockId, measuredMm }).then(() => {
      setMeasuredMm(null);
      say(`The feed of ${heads.name} on ${stockName} is corrected`);
    }, tell);
  };
  return (
    <div className="mb-3">
      <p>{stockName}</p>
      <p className="dense text-soft">
        {factor === null
          ? 'Not measured: it is fed as it is told.'
          : `Fed ${number(Math.abs(factor - 1) * 100, 2)} % too ${factor >= 1 ? 'far' : 'little'}; its advance is corrected.`}
        {tensionChanged && <span className="text-wait"> It is taken up in another way since: print a feed check.</span>}
      </p>
      <May right="operate">
        {toMeasure ? (
          <div className="mt-1 flex items-center justify-between gap-2">
            <span>From bar to bar</span>
            <LengthInput
              label={`Measured on ${stockName}`}
              valueMm={measuredMm}
              empty="500.0"
              leastMm={1}
              onChange={setMeasuredMm}
            />
            <Button kind="main" disabled={measuredMm === null} onClick={keep}>
              Keep
            </Button>
          </div>
        ) : (
          <Button kind={tensionChanged ? 'main' : 'quiet'} className="mt-1" onClick={print}>
            Print a feed check
          </Button>
        )}
      </May>
    </div>
  );
}
