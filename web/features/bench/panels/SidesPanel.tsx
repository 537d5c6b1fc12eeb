import { useState } from 'react';
import { Link } from 'react-router';
import type { BacksRule, SideSettings } from '../../../../contract/api/run.ts';
import { BACK_CONTENTS, MEDIA_TURNS, PIECE_TURNS } from '../../../../core/layout/arrange/twoSides.ts';
import { sendJson } from '../../../api/client.ts';
import type { RunDetail } from '../../../api/data.ts';
import { useNotice } from '../../../app/notice.tsx';
import { Button } from '../../../ui/Button.tsx';
import { Row, Section } from '../../../ui/Sheet.tsx';
import { SidesDrawing } from '../media/SidesDrawing.tsx';
import type { Bench } from '../state/useBench.ts';
import { LengthRow } from '../../../ui/fields/LengthRow.tsx';
import { Select } from '../../../ui/fields/Select.tsx';
import { useMay } from '../../../people/May.tsx';

const CONTENT_TEXTS = { readable: 'both sides readable', 'show-through': 'show-through' } as const;
const PLAIN: SideSettings = {
  turn: 'side for side',
  content: 'readable',
  pieceTurn: 'like a book',
  offsetXMm: 0,
  offsetYMm: 0,
};

interface SidesPanelProps {
  readonly run: RunDetail;
  readonly bench: Bench;
  readonly onSaved: (run: RunDetail) => void;
}

/** The back of the run: what is on it, and how it follows the front when the media is turned over. */
export function SidesPanel({ run, bench, onSaved }: SidesPanelProps) {
  const { tell } = useNotice();
  const may = useMay('coordinate');
  const [busy, setBusy] = useState(false);
  const act = (method: 'POST' | 'PUT', path: string, body?: unknown): void => {
    setBusy(true);
    bench
      .save()
      .then(() => sendJson<RunDetail>(method, `/api/runs/${run.id}/${path}`, body))
      .then((next) => {
        // The answer to *one side* is the front's run, whichever side it was asked from.
        if (next.id === run.id) onSaved(next);
      })
      .catch(tell)
      .finally(() => {
        setBusy(false);
      });
  };
  if (!run.pair)
    return (
      <AddBack
        run={run}
        disabled={busy || !may || run.state !== 'draft'}
        onAdd={(order) => {
          act('POST', 'two-sides', order);
        }}
      />
    );
  const { side, otherRunId, turn, content, pieceTurn, offsetXMm, offsetYMm } = run.pair;
  const settings = { turn, content, pieceTurn, offsetXMm, offsetYMm };
  const draft = may && run.state === 'draft';
  const change = (part: Partial<SideSettings>): void => {
    act('PUT', 'two-sides', { ...settings, ...part });
  };
  return (
    <Section title={side === 'front' ? 'This is the front' : 'This is the back'}>
      <SidesDrawing run={run} otherRunId={otherRunId} />
      {otherRunId !== null && (
        <Link to={`/bench/${otherRunId}`} className="mb-2 inline-block text-tide underline">
          Show the {side === 'front' ? 'back' : 'front'}
        </Link>
      )}
      {side === 'back' && <p className="mb-2 text-soft">It follows the front: what is moved there moves here.</p>}
      <fieldset disabled={!draft || busy} className="flex flex-col gap-1">
        <SideFields settings={settings} onChange={change} />
        <LengthRow
          label="Back moved across"
          valueMm={offsetXMm}
          leastMm={-100}
          mostMm={100}
          disabled={!draft || busy}
          onChange={(mm) => {
            change({ offsetXMm: mm });
          }}
        />
        <LengthRow
          label="Back moved along"
          valueMm={offsetYMm}
          leastMm={-100}
          mostMm={100}
          disabled={!draft || busy}
          onChange={(mm) => {
            change({ offsetYMm: mm });
          }}
        />
      </fieldset>
      <p className="mt-1 text-soft">
        Print once, measure how far the marks are apart, and put it here: plus is to the right and away from the leading
        edge.
      </p>
      {draft && (
        <Button
          className="mt-2 w-full"
          disabled={busy}
          onClick={() => {
            act('POST', 'one-side');
          }}
        >
          One side only
        </Button>
      )}
    </Section>
  );
}

function SideFields({
  settings,
  onChange,
}: {
  readonly settings: SideSettings;
  readonly onChange: (part: Partial<SideSettings>) => void;
}) {
  return (
    <>
      <Row label="Media is turned">
        <Select
          label="Media is turned"
          value={settings.turn}
          choices={MEDIA_TURNS}
          onChange={(turn) => {
            onChange({ turn });
          }}
        />
      </Row>
      <Row label="Back">
        <Select
          label="Back"
          value={settings.content}
          choices={BACK_CONTENTS.map((value) => ({ value, text: CONTENT_TEXTS[value] }))}
          onChange={(content) => {
            onChange({ content });
          }}
        />
      </Row>
      {settings.content === 'readable' && (
        <Row label="Pieces are turned">
          <Select
            label="Pieces are turned"
            value={settings.pieceTurn}
            choices={PIECE_TURNS.map((value) => ({ value, text: value }))}
            onChange={(pieceTurn) => {
              onChange({ pieceTurn });
            }}
          />
        </Row>
      )}
    </>
  );
}

const KINDS = ['every second page', 'the same picture', 'other jobs'] as const;

function AddBack({
  run,
  disabled,
  onAdd,
}: {
  readonly run: RunDetail;
  readonly disabled: boolean;
  readonly onAdd: (order: SideSettings & { readonly backs: BacksRule }) => void;
}) {
  const jobs = [...new Map(run.pieces.map((piece) => [piece.jobId, piece])).values()];
  const paged = run.pieces.some((piece) => piece.page === 1);
  const [settings, setSettings] = useState(PLAIN);
  const [kind, setKind] = useState<(typeof KINDS)[number]>(paged ? 'every second page' : 'the same picture');
  const [behind, setBehind] = useState<ReadonlyMap<string, string>>(new Map());
  const pairs = [...behind].map(([frontJobId, backJobId]) => ({ frontJobId, backJobId }));
  const taken = new Set(behind.values());
  const backs: BacksRule = kind === 'other jobs' ? { kind, pairs } : { kind };
  return (
    <Section title="Two sides">
      <p className="mb-2 text-soft">
        The back becomes a run of its own that follows this one. It starts only after a person has turned the media
        over.
      </p>
      <fieldset disabled={disabled} className="flex flex-col gap-1">
        <SideFields
          settings={settings}
          onChange={(part) => {
            setSettings({ ...settings, ...part });
          }}
        />
        <Row label="On the back">
          <Select
            label="On the back"
            value={kind}
            choices={KINDS.map((value) => ({ value, text: value }))}
            onChange={setKind}
          />
        </Row>
        {kind === 'other jobs' &&
          jobs
            .filter(({ jobId }) => !taken.has(jobId))
            .map(({ jobId, sourceName }) => (
              <div key={jobId} className="border-t border-rule py-1">
                <p className="truncate" title={sourceName}>
                  {sourceName}
                </p>
                <Select
                  label={`Behind ${sourceName}`}
                  value={behind.get(jobId) ?? ''}
                  choices={[
                    { value: '', text: 'nothing behind it' },
                    ...jobs
                      .filter((job) => job.jobId !== jobId && !behind.has(job.jobId))
                      .filter((job) => !taken.has(job.jobId) || behind.get(jobId) === job.jobId)
                      .map((job) => ({ value: job.jobId, text: job.sourceName })),
                  ]}
                  onChange={(value) => {
                    const next = new Map(behind);
                    if (value === '') next.delete(jobId);
                    else next.set(jobId, value);
                    setBehind(next);
                  }}
                />
              </div>
            ))}
        <Button
          className="mt-2"
          disabled={disabled || (kind === 'other jobs' && pairs.length === 0)}
          onClick={() => {
            onAdd({ ...settings, backs });
          }}
        >
          Add the back
        </Button>
      </fieldset>
    </Section>
  );
}
