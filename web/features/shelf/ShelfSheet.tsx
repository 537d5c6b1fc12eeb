import { SpoiledPicture } from './SpoiledPicture.tsx';
import { sizeText } from '../../ui/text/lengths.ts';
import { number } from '../../ui/text/number.ts';
import { counted } from '../../ui/text/counted.ts';
import { useState } from 'react';
import { useNavigate } from 'react-router';
import useSWR from 'swr';
import type { PrintedPieces } from '../../../contract/api/shelf.ts';
import { errorText, getJson, sendJson } from '../../api/client.ts';
import { type JobItem, pictureUrl } from '../../api/data.ts';
import { useNotice } from '../../app/notice.tsx';
import { JobCostView } from '../../draw/CostViews.tsx';
import { readRanges } from '../../../core/ticket/numberRanges.ts';
import { StateWord } from '../../draw/StateShape.tsx';
import { Button } from '../../ui/Button.tsx';
import { Row, Section, Sheet } from '../../ui/Sheet.tsx';
import { May } from '../../people/May.tsx';

/** Again as it was, some of it again, or opened for change as a new job. */
export function ShelfSheet({ job, onClose }: { readonly job: JobItem; readonly onClose: () => void }) {
  const { tell, say } = useNotice();
  const navigate = useNavigate();
  const [copies, setCopies] = useState(String(Math.max(1, job.copies)));
  const n = Number(copies);
  const kept = ['printed', 'shelved'].includes(job.state);
  return (
    <Sheet title={job.sourceName} under={<StateWord state={job.state} />} onClose={onClose}>
      <div className="mb-3 flex h-40 items-center justify-center rounded-md border border-rule bg-paper p-2">
        <img
          src={pictureUrl(job.id, 0, 'view', job.look)}
          alt={`Picture of ${job.sourceName}`}
          className="max-h-full max-w-full object-contain"
        />
      </div>
      <Row label="Customer">{job.customer ?? 'none'}</Row>
      <Row label="Order">{job.orderNo ?? 'none'}</Row>
      {job.widthMm !== null && job.heightMm !== null && <Row label="Size">{sizeText(job.widthMm, job.heightMm)}</Row>}
      <Row label="Printed">{counted(job.pieces.printed, 'piece')}</Row>
      {job.pieces.spoiled > 0 && <Row label="Spoiled">{number(job.pieces.spoiled)}</Row>}
      <div className="mt-3" />
      <May right="coordinate">
        <Section title="Again, as it was">
          <div className="flex items-center gap-2">
            <input
              aria-label="Copies"
              value={copies}
              inputMode="numeric"
              aria-invalid={!isCount(n)}
              onChange={(event) => {
                setCopies(event.target.value);
              }}
              className="h-8 w-20 rounded border border-rule bg-card px-2 text-right aria-invalid:border-stop"
            />
            <span className="text-soft">{n === 1 ? 'copy' : 'copies'}</span>
            <Button
              kind="main"
              className="ml-auto"
              disabled={!isCount(n) || !kept}
              onClick={() => {
                sendJson('POST', `/api/jobs/${job.id}/again`, { copies: n })
                  .then(() => {
                    say(`${job.sourceName} waits in Intake, ${String(n)} owed`);
                    onClose();
                  })
                  .catch(tell);
              }}
            >
              Print again
            </Button>
          </div>
        </Section>
        <SomeAgain job={job} />
      </May>
      <JobCostView jobId={job.id} version={job.state} />
      <May right="coordinate">
        <Section title="For change">
          <Button
            onClick={() => {
              sendJson<{ id: string }>('POST', `/api/jobs/${job.id}/anew`)
                .then(({ id }) => navigate(`/intake?job=${id}`))
                .catch(tell);
            }}
          >
            Open as a new job
          </Button>
          <p className="dense mt-1 text-soft">This one stays as it was printed.</p>
        </Section>
      </May>
    </Sheet>
  );
}

function isCount(n: number): boolean {
  return Number.isInteger(n) && n >= 1 && n <= 10_000;
}

/** Runs that are drawn; of a job that was printed again and again, the latest. */
const MOST_PICTURED = 3;

/** The spoiled pieces are chosen; each is owed once more. */
function SomeAgain({ job }: { readonly job: JobItem }) {
  const { tell, say } = useNotice();
  const [chosen, setChosen] = useState<ReadonlySet<string>>(new Set());
  const { data, error, mutate } = useSWR<PrintedPieces, Error>(`/api/jobs/${job.id}/printed`, getJson<PrintedPieces>);
  const [typed, setTyped] = useState('');
  const ranges = readRanges(typed, data?.length ?? 0);
  const choose = (text: string): void => {
    setTyped(text);
    const read = readRanges(text, data?.length ?? 0);
    if (read.ok) setChosen(new Set(read.value.flatMap((n) => data?.[n - 1]?.pieceId ?? [])));
  };
  const toggle = (pieceId: string): void => {
    const next = new Set(chosen);
    setTyped('');
    if (!next.delete(pieceId)) next.add(pieceId);
    setChosen(next);
  };
  const runIds = [...new Set((data ?? []).map(({ runId }) => runId))].slice(-MOST_PICTURED);
  const send = (): void => {
    sendJson('POST', `/api/jobs/${job.id}/spoiled`, { pieceIds: [...chosen] })
      .then(() => {
        say(`${String(chosen.size)} of ${job.sourceName} wait in Intake`);
        setChosen(new Set());
        setTyped('');
        return mutate();
      })
      .catch(tell);
  };
  return (
    <Section title="Some pieces again">
      {error && <p className="text-stop">{errorText(error)}</p>}
      {(data?.length ?? 0) > 1 &&
        runIds.map((runId) => (
          <SpoiledPicture key={runId} runId={runId} jobId={job.id} look={job.look} chosen={chosen} onToggle={toggle} />
        ))}
      {(data?.length ?? 0) > 1 && (
        <label className="mb-1.5 flex items-center gap-2">
          <span className="shrink-0 text-soft">Pieces by number</span>
          <input
            value={typed}
            placeholder="3, 7, 12–15"
            aria-invalid={!ranges.ok}
            onChange={(event) => {
              choose(event.target.value);
            }}
            className="h-8 min-w-0 flex-1 rounded border border-rule bg-card px-2 aria-invalid:border-stop"
          />
        </label>
      )}
      {!ranges.ok && (
        <p className="text-stop" role="alert">
          “{ranges.reason}” is no piece from 1 to {data?.length}.
        </p>
      )}
      <ul aria-label="Printed pieces" className="max-h-56 overflow-y-auto">
        {(data ?? []).map((piece, i) => {
          const words = [
            `copy ${String(piece.copy + 1)}`,
            (job.pages ?? 1) > 1 ? `page ${String(piece.page + 1)}` : '',
            piece.panel === null ? '' : `panel ${String(piece.panel)}`,
            piece.part ?? '',
          ].filter(Boolean);
          return (
            <li key={piece.pieceId}>
              <label className="flex items-center gap-2 py-0.5">
                <input
                  type="checkbox"
                  checked={chosen.has(piece.pieceId)}
                  onChange={() => {
                    toggle(piece.pieceId);
                  }}
                  className="accent-tide"
                />
                <span className="w-6 text-right text-soft">{i + 1}</span>
                {words.join(', ')} <span className="text-soft">{piece.runName}</span>
              </label>
            </li>
          );
        })}
        {data?.length === 0 && <li className="text-soft">No piece of it has been printed.</li>}
      </ul>
      <Button className="mt-1.5" disabled={chosen.size === 0} onClick={send}>
        {chosen.size === 0 ? 'Choose what is spoiled' : `Print these ${String(chosen.size)} again`}
      </Button>
    </Section>
  );
}
