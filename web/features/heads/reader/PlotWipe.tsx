import { ChevronLeft } from 'lucide-react';
import { useMemo, useState } from 'react';
import { checkPlot } from '../../../../core/heads/checkPlot.ts';
import { plotPrinter } from '../../../../core/heads/printerHeads.ts';
import { usePrinters } from '../../../api/data.ts';
import { clockText, useShopNow, useZone } from '../../../app/shopTime.ts';
import { WipeLine, WipeSlider, beforeWipe } from '../../../draw/Wipe.tsx';
import { Button } from '../../../ui/Button.tsx';
import { Select } from '../../../ui/fields/Select.tsx';
import { foundText } from '../HeadSheet.tsx';
import type { Check, Heads } from '../useHeads.ts';
import { draftOf } from './faultsDraft.ts';
import { PlotCanvas } from './PlotCanvas.tsx';
import { blockView } from './plotPlaces.ts';

/** Two checks of a printer over one another: a wipe shows what was before at its left, what is after it at its right. */
export function PlotWipe({
  heads,
  checkId,
  onDone,
}: {
  readonly heads: Heads;
  readonly checkId: string;
  readonly onDone: () => void;
}) {
  const { data: printers } = usePrinters();
  const config = printers?.find(({ id }) => id === heads.printerId)?.config;
  const after = heads.checks.find(({ id }) => id === checkId);
  const before = heads.checks.find(({ printedMs, readMs }) => readMs !== null && printedMs < (after?.printedMs ?? 0));
  const plot = useMemo(() => config && checkPlot(plotPrinter(heads.printerId, config)), [config, heads.printerId]);
  const [at, setAt] = useState(() => firstChanged(heads, before, after));
  const [share, setShare] = useState(50);
  const nowMs = useShopNow(30_000) ?? 0;
  const zone = useZone();
  const blocks = plot?.blocks.filter(({ channelId }) => after?.channelIds.includes(channelId)) ?? [];
  const block = blocks.find(({ channelId }) => channelId === at) ?? blocks[0];
  if (!plot || !block || !after || !before) return null;
  const same = blocks.filter(({ channelId }) => channelId === block.channelId);
  const said = (check: Check) => draftOf([block.channelId], check.found)[block.channelId];
  const [was, is] = [said(before), said(after)];
  if (!was || !is) return null;
  return (
    <section className="flex h-full min-w-0 flex-col">
      <header className="flex flex-wrap items-center gap-3 px-5 pt-3 pb-2.5">
        <Button kind="quiet" onClick={onDone} aria-label="Back to the heads">
          <ChevronLeft size={16} aria-hidden="true" /> Heads
        </Button>
        <h1 className="text-lg font-semibold">{heads.name}: before and after</h1>
        <span className="flex-1" />
        <Select
          label="Channel"
          value={block.channelId}
          choices={heads.channels
            .filter(({ id }) => after.channelIds.includes(id))
            .map(({ id, name }) => ({ value: id, text: name }))}
          onChange={setAt}
        />
      </header>
      <div
        className="flex items-baseline justify-between gap-4 px-5 pb-1"
        style={{ maxWidth: blockView(block).width + 40 }}
      >
        <span>
          <strong>Before</strong>, {clockText(before.printedMs, nowMs, zone)}: {foundText(before)}
        </span>
        <span className="text-right">
          <strong>After</strong>, {clockText(after.printedMs, nowMs, zone)}: {foundText(after)}
        </span>
      </div>
      <div className="px-5 pb-2" style={{ maxWidth: blockView(block).width + 40 }}>
        <WipeSlider share={share} onChange={setShare} />
      </div>
      <div className="min-h-0 flex-1 overflow-auto px-5 pb-5">
        {same.map((each) => (
          <div key={each.index} className="relative mb-3 w-fit">
            <PlotCanvas plot={plot} block={each} said={is} label={`After, ${foundText(after)}`} />
            <div className="absolute inset-0" style={beforeWipe({ share })}>
              <PlotCanvas plot={plot} block={each} said={was} label={`Before, ${foundText(before)}`} />
            </div>
            <WipeLine share={share} />
          </div>
        ))}
      </div>
    </section>
  );
}

/** The channel in which most has changed. */
function firstChanged(heads: Heads, before: Check | undefined, after: Check | undefined): string {
  const count = (check: Check | undefined, id: string): number => {
    const own = check?.found?.[id];
    return own ? own.missing.length + own.weak.length + own.crooked.length : 0;
  };
  const change = (id: string): number => Math.abs(count(before, id) - count(after, id));
  const [most] = [...heads.channels].sort((a, b) => change(b.id) - change(a.id));
  return most?.id ?? '';
}
