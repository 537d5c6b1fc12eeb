import { acrossText } from '../../../ui/text/lengths.ts';
import { number } from '../../../ui/text/number.ts';
import type { RunTime } from '../../../../core/estimate/runTime.ts';
import { durationText } from '../../../../core/units/durationText.ts';
import { Row } from '../../../ui/Sheet.tsx';

/** Where the time goes, as a bar at its true shares, and from what it is computed. */
export function TimeParts({ time, span }: { readonly time: RunTime; readonly span: string }) {
  const parts = [
    { name: 'Start-up', ms: time.startUpMs, fill: 'var(--soft)' },
    { name: `Printing, ${number(time.strokes)} strokes`, ms: time.printMs, fill: 'var(--go)' },
    { name: 'Dry-out feed', ms: time.dryOutMs, fill: 'var(--wait)' },
    { name: 'Drying', ms: time.dryingMs, fill: 'var(--wait)' },
    { name: 'Contour cutting', ms: time.contourMs, fill: 'var(--tide)' },
    { name: 'Cut off', ms: time.cutMs, fill: 'var(--ink)' },
    { name: 'A person at the stops', ms: time.handMs, fill: 'var(--spool)' },
  ].filter((part) => part.ms > 0);
  return (
    <>
      <div className="mb-2 flex h-3 overflow-hidden rounded-sm border border-rule" aria-hidden="true">
        {parts.map((part) => (
          <span
            key={part.name}
            style={{ width: `${String((part.ms / time.totalMs) * 100)}%`, background: part.fill }}
          />
        ))}
      </div>
      {parts.map((part) => (
        <Row key={part.name} label={part.name}>
          <span className="inline-flex items-center gap-1.5 whitespace-nowrap">
            <span className="size-2.5 rounded-sm" style={{ background: part.fill }} />
            {durationText(part.ms)}
          </span>
        </Row>
      ))}
      <p className="dense mt-1 text-soft">
        Swath {acrossText(time.swathMm, 2)}, advance {acrossText(time.advanceMm, 3)} a stroke, carriage over{' '}
        {span === 'artwork' ? 'the artwork' : span === 'media' ? 'the media' : 'the whole bed'}
      </p>
    </>
  );
}
