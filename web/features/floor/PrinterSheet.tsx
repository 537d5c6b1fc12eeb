import { Link } from 'react-router';
import { sendJson } from '../../api/client.ts';
import { useSpools, type Printer, type RunItem, type SpoolView } from '../../api/data.ts';
import { useNotice } from '../../app/notice.tsx';
import { clockText, durationText, useShopNow, useZone } from '../../app/shopTime.ts';
import { SpoolSign } from '../../draw/SpoolSign.tsx';
import { StateWord } from '../../draw/StateShape.tsx';
import { Button } from '../../ui/Button.tsx';
import { Figure, number } from '../../ui/Figure.tsx';
import { Row, Section, Sheet } from '../../ui/Sheet.tsx';

interface PrinterSheetProps {
  readonly printer: Printer;
  readonly runs: readonly RunItem[];
  readonly onClose: () => void;
}

export function PrinterSheet({ printer, runs, onClose }: PrinterSheetProps) {
  const present = runs.find((run) => ['sent', 'printing', 'paused'].includes(run.state));
  const queued = runs.filter((run) => run.state === 'queued');
  const ended = runs.filter((run) => run.endedMs !== null && run.startedMs !== null).slice(0, 8);
  const { config } = printer;
  return (
    <Sheet
      title={printer.name}
      under={
        <StateWord state={printer.state}>
          {printer.state}
          {printer.reason === null ? '' : `: ${printer.reason}`}
        </StateWord>
      }
      onClose={onClose}
    >
      <Section title="Now">
        {present ? <PresentRun run={present} /> : <p className="text-soft">Nothing is on the printer.</p>}
      </Section>
      <Section title="Next">
        {queued.length === 0 && (
          <p className="text-soft">
            Nothing is queued. Choose jobs in{' '}
            <Link to="/intake" className="text-tide underline">
              Intake
            </Link>{' '}
            and lay them out.
          </p>
        )}
        {queued.map((run) => (
          <QueuedRun key={run.id} run={run} />
        ))}
      </Section>
      <Section title="Loaded">
        {config.sources.map((source) => (
          <Source key={source.id} printer={printer} sourceId={source.id} name={source.name} />
        ))}
      </Section>
      <Section title="Ink left">
        {config.channels.map((channel) => (
          <Row key={channel.id} label={channel.name}>
            <Figure value={number(printer.inkLeftMl[channel.id] ?? 0, 1)} unit={`of ${number(channel.tankMl)} ml`} />
          </Row>
        ))}
      </Section>
      <Section title="Ended">
        {ended.length === 0 && <p className="text-soft">No run has ended yet.</p>}
        {ended.map((run) => (
          <Row key={run.id} label={run.name}>
            <Link to={`/bench/${run.id}`} className="hover:underline">
              <StateWord state={run.state} />{' '}
              <span className="text-soft">{number((run.reachedMm ?? 0) / 1000, 2)} m</span>
            </Link>
          </Row>
        ))}
      </Section>
      <Section title="Prints">
        <Row label="Form">{config.form}</Row>
        <Row label="Printable width">
          <Figure value={number(config.printableWidthMm)} unit="mm" />
        </Row>
        <Row label="Widest media">
          <Figure value={number(config.widestMediaMm)} unit="mm" />
        </Row>
        <Row label="Longest run">
          <Figure value={number(config.longestMm / 1000, 1)} unit="m" />
        </Row>
        <Row label="Media lies against">{config.registeredEdge} edge</Row>
        {config.modes.map((mode) => (
          <Row key={mode.id} label={mode.name}>
            {mode.dpiX} × {mode.dpiY} dpi, {mode.passes} passes
          </Row>
        ))}
      </Section>
    </Sheet>
  );
}

function PresentRun({ run }: { readonly run: RunItem }) {
  const { tell } = useNotice();
  const now = useShopNow(500);
  const zone = useZone();
  const act = (step: string) => () => {
    sendJson('POST', `/api/runs/${run.id}/${step}`).catch(tell);
  };
  const progress = run.progress;
  const left = progress
    ? Math.max(0, progress.msLeft - (run.state === 'printing' && now !== undefined ? now - progress.atMs : 0))
    : run.estimateMs;
  return (
    <>
      <Link to={`/bench/${run.id}`} className="font-medium hover:underline">
        {run.name}
      </Link>
      <Row label="State">
        <StateWord state={run.state}>
          {run.state}
          {run.reason === null ? '' : `: ${run.reason}`}
        </StateWord>
      </Row>
      <Row label="Printed">
        <Figure value={number(run.reachedMm ?? 0)} unit={`of ${number(run.lengthMm)} mm`} />
      </Row>
      <Row label="Time left">
        {durationText(left)}
        {now === undefined || run.state !== 'printing' ? '' : `, until ${clockText(now + left, now, zone)}`}
      </Row>
      <Row label="Pieces">
        {run.pieceCount} of {run.jobCount} jobs
      </Row>
      <div className="mt-2 flex gap-2">
        {run.state === 'paused' ? (
          <Button kind="main" onClick={act('resume')}>
            Go on
          </Button>
        ) : (
          <Button onClick={act('pause')}>Pause</Button>
        )}
        <Button kind="danger" onClick={act('cancel')}>
          Cancel the run
        </Button>
      </div>
    </>
  );
}

function QueuedRun({ run }: { readonly run: RunItem }) {
  const { tell } = useNotice();
  const takeBack = (): void => {
    sendJson('POST', `/api/runs/${run.id}/take-back`).catch(tell);
  };
  return (
    <div className="flex items-center justify-between gap-2 py-0.5">
      <Link to={`/bench/${run.id}`} className="min-w-0 truncate hover:underline">
        {run.name}{' '}
        <span className="text-soft">
          {number(run.lengthMm / 1000, 2)} m, {durationText(run.estimateMs)}
          {run.spoolId === null ? ', its media is not loaded' : ''}
        </span>
      </Link>
      <Button kind="quiet" onClick={takeBack}>
        Take back
      </Button>
      {run.pair?.side === 'back' && run.pair.frontPrinted && !run.pair.confirmed && (
        <ConfirmBack run={run} turn={run.pair.turn} />
      )}
    </div>
  );
}

/** Only the person who loaded it knows that it is the same piece of media: they say which spool it is. */
function ConfirmBack({ run, turn }: { readonly run: RunItem; readonly turn: string }) {
  const { data: spools } = useSpools();
  const { tell } = useNotice();
  const loaded = (spools ?? []).filter((spool) => spool.printerId === run.printerId);
  const confirm = (spoolId: string): void => {
    sendJson('POST', `/api/runs/${run.id}/confirm-back`, { spoolId }).catch(tell);
  };
  return (
    <select
      aria-label={`Confirm the media for the back, ${run.name}`}
      value=""
      onChange={(event) => {
        confirm(event.target.value);
      }}
      className="h-8 max-w-44 rounded-md border border-wait bg-card px-1 font-medium"
    >
      <option value="" disabled>
        Turned {turn}: which spool is in?
      </option>
      {loaded.map((spool) => (
        <option key={spool.id} value={spool.id}>
          {spool.label}, {spool.stockName}
        </option>
      ))}
    </select>
  );
}

function Source({
  printer,
  sourceId,
  name,
}: {
  readonly printer: Printer;
  readonly sourceId: string;
  readonly name: string;
}) {
  const { data: spools } = useSpools();
  const { tell } = useNotice();
  const loaded = printer.spools.find((spool) => spool.sourceId === sourceId);
  const rack = (spools ?? []).filter(
    (spool) => spool.printerId === null && spool.widthMm <= printer.config.widestMediaMm,
  );
  const load = (spoolId: string): void => {
    sendJson('POST', `/api/spools/${spoolId}/load`, { printerId: printer.id, sourceId }).catch(tell);
  };
  return (
    <div className="mb-3 last:mb-0">
      <div className="flex items-center gap-3">
        {loaded && <SpoolSign {...loaded} size={44} label={`${loaded.label} on ${name}`} />}
        <div className="min-w-0 flex-1">
          <p className="text-soft">{name}</p>
          {loaded ? (
            <p>
              {loaded.label} {loaded.stockName}, <Figure value={number(loaded.leftMm / 1000, 2)} unit="m left" />
            </p>
          ) : (
            <p>empty</p>
          )}
        </div>
      </div>
      <select
        aria-label={`Load another spool on ${name}`}
        value=""
        onChange={(event) => {
          load(event.target.value);
        }}
        className="mt-1.5 h-8 w-full rounded-md border border-rule bg-card px-2"
      >
        <option value="" disabled>
          Load another spool…
        </option>
        {rack.map((spool) => (
          <option key={spool.id} value={spool.id}>
            {spoolText(spool)}
          </option>
        ))}
      </select>
    </div>
  );
}

function spoolText(spool: SpoolView): string {
  return `${spool.label} ${spool.stockName}, ${number(spool.leftMm / 1000, 1)} m`;
}
