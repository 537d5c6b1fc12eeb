import { useState } from 'react';
import type { RunOffer } from '../../../../contract/api/fit.ts';
import { errorText, sendJson } from '../../../api/client.ts';
import { useNotice } from '../../../app/notice.tsx';
import { durationText } from '../../../../core/units/durationText.ts';
import { clockText, useShopNow, useZone } from '../../../app/shopTime.ts';
import { Button } from '../../../ui/Button.tsx';
import { Section } from '../../../ui/Sheet.tsx';
import { useMay } from '../../../people/May.tsx';

/** While a printer stands: what of its work others can take, one by one or all of it. */
export function Offers({ name, offers }: { readonly name: string; readonly offers: readonly RunOffer[] }) {
  const { say } = useNotice();
  const mayMove = useMay('coordinate');
  const [moving, setMoving] = useState(false);
  const [trouble, setTrouble] = useState<string | null>(null);
  const able = offers.filter((offer) => offer.to !== null);
  if (offers.length === 0) return null;
  const move = async (chosen: readonly RunOffer[]): Promise<void> => {
    setMoving(true);
    setTrouble(null);
    // One after another: where the first goes changes when the next would be done.
    for (const offer of chosen) {
      say(`Moving ${offer.name}: it is laid out for ${offer.to?.printerName ?? 'another printer'}`);
      const what = offer.kind === 'rest' ? 'print-rest' : 'move';
      try {
        await sendJson('POST', `/api/runs/${offer.runId}/${what}`, { printerId: offer.to?.printerId });
      } catch (error) {
        setTrouble(errorText(error));
        break;
      }
    }
    setMoving(false);
  };
  return (
    <Section
      title={`While ${name} stands`}
      aside={
        able.length > 1 &&
        mayMove && (
          <Button kind="quiet" className="!h-7 !px-1.5" disabled={moving} onClick={() => void move(able)}>
            Move all {able.length}
          </Button>
        )
      }
    >
      <ul aria-label={`Work of ${name} that others could take`}>
        {offers.map((offer) => (
          <Offer key={offer.runId} offer={offer} disabled={moving} onMove={() => void move([offer])} />
        ))}
      </ul>
      {trouble !== null && (
        <p role="alert" className="mt-1 text-stop">
          {trouble}
        </p>
      )}
    </Section>
  );
}

function Offer({
  offer,
  disabled,
  onMove,
}: {
  readonly offer: RunOffer;
  readonly disabled: boolean;
  readonly onMove: () => void;
}) {
  const now = useShopNow(10_000) ?? 0;
  const zone = useZone();
  const mayMove = useMay('coordinate');
  const name = offer.kind === 'rest' ? `the rest of ${offer.name}` : offer.name;
  return (
    <li className="border-b border-rule/70 py-1.5 last:border-0">
      <div className="flex items-center gap-2">
        <span className="min-w-0 flex-1">
          <span className="block truncate font-medium first-letter:uppercase">{name}</span>
          {offer.to ? (
            <span className={`dense block ${offer.to.lateMs > 0 ? 'text-stop' : 'text-soft'}`}>
              {offer.to.printerName} is done with it {clockText(offer.to.endMs, now, zone)}
              {offer.to.lateMs > 0 ? `, late by ${durationText(offer.to.lateMs)}` : ''}
            </span>
          ) : (
            <span className="dense block text-soft">Nobody else: {offer.why}</span>
          )}
        </span>
        {offer.to && mayMove && (
          <Button kind="quiet" className="!h-7 shrink-0 !px-1.5" disabled={disabled} onClick={onMove}>
            To {offer.to.printerName}
          </Button>
        )}
      </div>
    </li>
  );
}
