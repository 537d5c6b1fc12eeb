import { Camera, ChevronLeft } from 'lucide-react';
import { useMemo, useRef, useState } from 'react';
import { checkPlot } from '../../../../core/heads/checkPlot.ts';
import { plotPrinter } from '../../../../core/heads/printerHeads.ts';
import { errorText } from '../../../api/client.ts';
import { usePrinters } from '../../../api/data.ts';
import { useNotice } from '../../../app/notice.tsx';
import { clockText, useShopNow, useZone } from '../../../app/shopTime.ts';
import { Button } from '../../../ui/Button.tsx';
import { Select } from '../../../ui/fields/Select.tsx';
import { number } from '../../../ui/text/number.ts';
import { Row } from '../../../ui/Sheet.tsx';
import { type Heads, keepReading, readPictures } from '../useHeads.ts';
import { type FaultsDraft, draftCounts, draftOf, draftOfPictures, foundOf, tapped } from './faultsDraft.ts';
import { PlotCanvas } from './PlotCanvas.tsx';

interface Pictures {
  readonly busy: boolean;
  readonly confidence: number | null;
  readonly text: string | null;
  readonly wrong: string | null;
}

const NO_PICTURES: Pictures = { busy: false, confidence: null, text: null, wrong: null };

/** Reads a check plot: bad lines are tapped on its picture, by hand or with what photos show as a beginning. */
export function PlotReader({
  heads,
  checkId,
  onDone,
}: {
  readonly heads: Heads;
  /** Null: a plot that was not printed from here. */
  readonly checkId: string | null;
  readonly onDone: () => void;
}) {
  const { data: printers } = usePrinters();
  const config = printers?.find(({ id }) => id === heads.printerId)?.config;
  const check = heads.checks.find(({ id }) => id === checkId);
  const channelIds = check?.channelIds ?? heads.channels.map(({ id }) => id);
  const shown = channelIds.join(' ');
  const plot = useMemo(
    () => config && checkPlot(plotPrinter(heads.printerId, config, shown.split(' '))),
    [config, heads.printerId, shown],
  );
  const [draft, setDraft] = useState<FaultsDraft>(() => draftOf(channelIds, check?.found ?? null));
  const [at, setAt] = useState(0);
  const [pictures, setPictures] = useState<Pictures>(NO_PICTURES);
  const { say, tell } = useNotice();
  const nowMs = useShopNow(30_000) ?? 0;
  const zone = useZone();
  const block = plot?.blocks[Math.min(at, plot.blocks.length - 1)];
  const [cursors, setCursors] = useState<Readonly<Record<number, number>>>({});
  if (!plot || !block) return null;
  const cursor = cursors[block.index] ?? block.firstN;
  const own = draft[block.channelId];
  const counts = draftCounts(draft);
  const name = (id: string): string => heads.channels.find((each) => each.id === id)?.name ?? id;
  const blockName = (index: number): string => {
    const each = plot.blocks.find((own) => own.index === index);
    if (!each) return '';
    const ofChannel = plot.blocks.filter(({ channelId }) => channelId === each.channelId).length;
    const part = heads.head === 'carriage' ? 'head' : 'part';
    return ofChannel === 1 ? name(each.channelId) : `${name(each.channelId)}, ${part} ${String(each.head + 1)}`;
  };
  const take = (files: readonly File[]): void => {
    if (files.length === 0) return;
    setPictures({ ...NO_PICTURES, busy: true });
    readPictures(heads.printerId, files).then(
      (read) => {
        const kept = { channels: read.channels.filter(({ id }) => channelIds.includes(id)) };
        setDraft(draftOfPictures(kept));
        const sure =
          read.confidence === null ? "can't judge: too coarse" : `sure of ${number(read.confidence * 100, 1)} %`;
        setPictures({
          ...NO_PICTURES,
          confidence: read.confidence,
          text: `${String(read.blocks)} of ${String(plot.blocks.length)} blocks found, ${sure}. Put right what you see otherwise.`,
        });
      },
      (error: unknown) => {
        setPictures({ ...NO_PICTURES, wrong: errorText(error) });
      },
    );
  };
  const keep = (): void => {
    const by = pictures.text === null ? ('eye' as const) : ('photo' as const);
    keepReading(heads.printerId, checkId, { by, confidence: pictures.confidence, found: foundOf(draft) }).then(() => {
      say(`The check of ${heads.name} is read`);
      onDone();
    }, tell);
  };
  return (
    <div className="flex h-full min-h-0 max-phone:flex-col">
      <section className="flex min-h-0 min-w-0 flex-1 flex-col">
        <header className="flex flex-wrap items-center gap-3 px-5 pt-3 pb-2.5">
          <Button kind="quiet" onClick={onDone} aria-label="Back to the heads">
            <ChevronLeft size={16} aria-hidden="true" /> Heads
          </Button>
          <h1 className="text-lg font-semibold">
            {heads.name}: {check ? `check of ${clockText(check.printedMs, nowMs, zone)}` : 'another plot'}
          </h1>
          <span className="flex-1" />
          <Select
            label="Block of the plot"
            value={String(block.index)}
            choices={plot.blocks.map(({ index }) => ({ value: String(index), text: blockName(index) }))}
            onChange={(index) => {
              setAt(plot.blocks.findIndex((each) => String(each.index) === index));
            }}
          />
        </header>
        <div className="min-h-0 flex-1 overflow-auto px-5 pb-5">
          {own && (
            <PlotCanvas
              plot={plot}
              block={block}
              said={own}
              cursor={cursor}
              label={`Plot of ${blockName(block.index)}`}
              onTap={(n) => {
                setDraft((before) => tapped(before, block.channelId, n));
              }}
              onCursor={(n) => {
                setCursors((before) => ({ ...before, [block.index]: n }));
              }}
            />
          )}
        </div>
      </section>
      <aside
        aria-label="What it shows"
        className="w-[300px] shrink-0 overflow-y-auto border-l border-rule bg-card px-4 py-3 max-phone:max-h-[45%] max-phone:w-full max-phone:border-t max-phone:border-l-0"
      >
        <p id="plot-keys" className="mb-3 text-soft">
          Tap a line that is not well: once it is missing, twice weak, three times crooked, once more well again. By
          keys: arrows and Space.
        </p>
        <p aria-live="polite" className="mb-3">
          {name(block.channelId)}, nozzle {cursor}:{' '}
          {own?.faults.get(cursor) ?? (own?.unjudged.has(cursor) ? 'not judged' : 'prints')}
        </p>
        <PictureButton busy={pictures.busy} onFiles={take} />
        {pictures.text !== null && <p className="mt-2">{pictures.text}</p>}
        {pictures.wrong !== null && (
          <p role="alert" className="mt-2 text-stop">
            {pictures.wrong}
          </p>
        )}
        <div className="mt-4 border-t border-rule pt-3">
          <Row label="Missing">{number(counts.missing)}</Row>
          <Row label="Weak">{number(counts.weak)}</Row>
          <Row label="Crooked">{number(counts.crooked)}</Row>
          {counts.unjudged > 0 && <Row label="Not judged">{number(counts.unjudged)}</Row>}
        </div>
        <Button kind="main" className="mt-3 w-full" onClick={keep}>
          {counts.missing + counts.weak + counts.crooked === 0 && counts.unjudged === 0
            ? 'Every nozzle prints'
            : 'Take this reading'}
        </Button>
      </aside>
    </div>
  );
}

function PictureButton({ busy, onFiles }: { readonly busy: boolean; readonly onFiles: (files: File[]) => void }) {
  const input = useRef<HTMLInputElement>(null);
  return (
    <>
      <Button className="w-full" disabled={busy} onClick={() => input.current?.click()}>
        <Camera size={16} aria-hidden="true" /> {busy ? 'Reading…' : 'Read from pictures'}
      </Button>
      <input
        ref={input}
        type="file"
        accept="image/*"
        multiple
        hidden
        aria-label="Pictures of the plot"
        onChange={(event) => {
          onFiles([...(event.target.files ?? [])]);
          event.target.value = '';
        }}
      />
      <p className="dense mt-1 text-soft">
        Scans or photos, one or several: from straight above, with the corner marks in them, 300 dpi or more.
      </p>
    </>
  );
}
