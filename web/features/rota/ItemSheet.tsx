import { useNavigate } from 'react-router';
import { useSWRConfig } from 'swr';
import type { RotaItem, RotaView } from '../../../contract/api/care.ts';
import { sendJson } from '../../api/client.ts';
import { useNotice } from '../../app/notice.tsx';
import { durationText } from '../../../core/units/durationText.ts';
import { clockText, useZone } from '../../app/shopTime.ts';
import { Button } from '../../ui/Button.tsx';
import { Row, Sheet } from '../../ui/Sheet.tsx';
import { OUTCOMES } from './outcomes.ts';
import { useTimers } from './useRota.ts';
import { useMay } from '../../people/May.tsx';

/** One thing that happens by itself, or did: what becomes of it, why, and what a person can do. */
export function ItemSheet({
  item,
  printer,
  nowMs,
  onTimer,
  onClose,
}: {
  readonly item: RotaItem;
  readonly printer: RotaView['printers'][number];
  readonly nowMs: number;
  readonly onTimer: (id: string) => void;
  readonly onClose: () => void;
}) {
  const zone = useZone();
  const { tell } = useNotice();
  const { mutate } = useSWRConfig();
  const navigate = useNavigate();
  const { data: timers = [] } = useTimers();
  const timer = timers.find(({ id }) => id === item.timerId);
  const inLine = item.id.startsWith('care-');
  const waits = inLine && (item.outcome === 'planned' || item.outcome === 'conflict');
  const isOver =
    ['done', 'late', 'failed', 'skipped', 'impossible', 'cancelled', 'holiday'].includes(item.outcome) && inLine;
  const act = (what: Promise<unknown>): void => {
    what.then(() => mutate((key) => typeof key === 'string' && key.startsWith('/api/rota'))).catch(tell);
  };
  const mayCare = useMay('operate');
  const mayChange = useMay('coordinate');
  return (
    <Sheet title={item.title} under={<p className="text-soft">{printer.name}</p>} onClose={onClose}>
      <Row label="Begins">{clockText(item.fromMs, nowMs, zone)}</Row>
      {item.toMs > item.fromMs && <Row label="Takes">{durationText(item.toMs - item.fromMs)}</Row>}
      {item.dueMs !== null && item.kind !== 'run' && Math.abs(item.dueMs - item.fromMs) > 60_000 && (
        <Row label="Due">{clockText(item.dueMs, nowMs, zone)}</Row>
      )}
      <Row label="Outcome">
        <span
          className={
            item.outcome === 'conflict' || item.outcome === 'failed' || item.outcome === 'impossible' ? 'text-stop' : ''
          }
        >
          {OUTCOMES[item.outcome].word}
        </span>
      </Row>
      {item.why !== '' && <p className="mt-2">{item.why}.</p>}
      {item.way !== '' && <p className="mt-1 text-soft">{item.way}</p>}
      {timer && (
        <p className="mt-3 text-soft">
          {timer.title} {timer.text}
          {timer.paused ? ', paused' : ''}
        </p>
      )}
      <div className="mt-4 flex flex-wrap gap-2">
        {mayCare && timer && item.kind !== 'release' && !isOver && (
          <Button
            kind="main"
            onClick={() => {
              act(sendJson('POST', '/api/care', { printerId: printer.printerId, what: timer.what }));
            }}
          >
            Run now
          </Button>
        )}
        {timer && (
          <Button
            onClick={() => {
              onTimer(timer.id);
            }}
          >
            {mayChange ? 'Change the timer' : 'Look at the timer'}
          </Button>
        )}
        {mayCare && waits && (
          <Button
            kind="danger"
            onClick={() => {
              act(sendJson('POST', `/api/care/${item.id}/cancel`).then(onClose));
            }}
          >
            Take out of the line
          </Button>
        )}
        {item.kind === 'run' && (
          <Button
            onClick={() => {
              void navigate(`/floor?printer=${printer.printerId}`);
            }}
          >
            Show on the Floor
          </Button>
        )}
      </div>
    </Sheet>
  );
}
