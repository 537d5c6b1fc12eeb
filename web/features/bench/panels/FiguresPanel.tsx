import { Figure } from '../../../ui/Figure.tsx';
import { acrossText, acrossFigure, lengthFigure } from '../../../ui/text/lengths.ts';
import { number } from '../../../ui/text/number.ts';
import { Tab, TabGroup, TabList, TabPanel, TabPanels } from '@headlessui/react';
import type { BoundReason } from '../../../../core/layout/bound.ts';
import { type RunDetail, usePrinters } from '../../../api/data.ts';
import { Button } from '../../../ui/Button.tsx';
import { Row, Section } from '../../../ui/Sheet.tsx';
import { ChosenPieces } from './ChosenPieces.tsx';
import { LayoutFields } from './LayoutFields.tsx';
import { MarksPanel } from './MarksPanel.tsx';
import { NestRules } from './NestRules.tsx';
import { RunActions } from './RunActions.tsx';
import { RunFigures } from './RunFigures.tsx';
import { SegmentsPanel } from './SegmentsPanel.tsx';
import { SidesPanel } from './SidesPanel.tsx';
import { StepPanel } from './StepPanel.tsx';
import type { Step } from '../state/useStep.ts';
import { type Bench, SEARCH_ON_MS } from '../state/useBench.ts';

interface FiguresPanelProps {
  readonly run: RunDetail;
  readonly bench: Bench;
  readonly selected: ReadonlySet<string>;
  readonly step: Step | undefined;
  readonly onLeft: () => void;
  readonly onSaved: (run: RunDetail) => void;
  /** Number of the tab that is open; it stays open from run to run. */
  readonly tab: number;
  readonly onTab: (tab: number) => void;
}

/** Where rows are set up: they are shown on the media while it is open. */
export const LAY_OUT_TAB = 1;
const TABS = ['Figures', 'Lay out', 'Marks', 'Sides'] as const;

/** What the layout amounts to is always in sight; what it is made by is behind the tabs. */
export function FiguresPanel({ run, bench, step, selected, onLeft, onSaved, tab, onTab }: FiguresPanelProps) {
  const { data: printers } = usePrinters();
  const printer = printers?.find((each) => each.id === run.printerId);
  return (
    <aside aria-label="Figures" className="flex w-[292px] shrink-0 flex-col border-l border-rule bg-card">
      <h2 className="sr-only">Figures</h2>
      <div className="border-b border-rule px-4 pt-3">
        {bench.trouble !== undefined && (
          <p className="mb-3 text-stop" role="alert">
            {bench.trouble}
          </p>
        )}
        <UsedLength run={run} bench={bench} />
        {selected.size > 0 && <ChosenPieces run={run} bench={bench} selected={selected} />}
      </div>
      <TabGroup selectedIndex={tab} onChange={onTab} className="flex min-h-0 flex-1 flex-col">
        <TabList className="flex gap-4 border-b border-rule px-4">
          {TABS.map((name) => (
            <Tab
              key={name}
              className="border-b-2 border-transparent py-2 font-medium text-soft outline-offset-[-2px] hover:text-ink data-selected:border-tide data-selected:text-ink"
            >
              {name}
            </Tab>
          ))}
        </TabList>
        <TabPanels className="min-h-0 flex-1 overflow-y-auto px-4 py-3">
          <TabPanel>
            <RunFigures run={run} bench={bench} />
          </TabPanel>
          <TabPanel>
            <NestRules run={run} bench={bench} />
            <LayoutFields bench={bench} run={run} />
            <StepPanel step={step} />
            {bench.editable && printer && !run.pair && bench.layout.settings.sheetMm == null && (
              <SegmentsPanel run={run} bench={bench} printer={printer} onLeft={onLeft} />
            )}
          </TabPanel>
          <TabPanel>
            <MarksPanel
              run={run}
              bench={bench}
              white={printer?.config.channels.some((channel) => channel.id === 'white') ?? false}
            />
          </TabPanel>
          <TabPanel>
            <SidesPanel run={run} bench={bench} onSaved={onSaved} />
          </TabPanel>
        </TabPanels>
      </TabGroup>
      <RunActions run={run} bench={bench} printerName={printer?.name ?? ''} onLeft={onLeft} />
    </aside>
  );
}

/** The used length beside the least that is possible at all: so a person sees whether another nest could be worth it. */
function UsedLength({ run, bench }: { readonly run: RunDetail; readonly bench: Bench }) {
  const { figures, layout } = bench;
  const lengthMm = figures?.lengthMm ?? 0;
  const { sheetMm = null } = layout.settings;
  const boundMm = figures?.boundMm ?? 0;
  const over = boundMm > 0 ? lengthMm / boundMm - 1 : 0;
  const used = lengthFigure(lengthMm);
  return (
    <Section title="Used length">
      <p data-testid="used-length">
        <Figure large value={used.value} unit={used.unit} />
      </p>
      <Row label="Utilisation">
        <Figure value={number((figures?.utilisation ?? 0) * 100, 1)} unit={`% of ${acrossText(run.mediaWidthMm)}`} />
      </Row>
      {sheetMm === null ? (
        // Room for two lines, so that what is below seldom moves under the pointer while a nest gets better.
        <div className="min-h-12">
          <LengthBound run={run} bench={bench} over={over} />
        </div>
      ) : (
        <Row label={`Sheets, no fewer than ${number(boundMm / sheetMm)}`}>
          <Figure value={number(lengthMm / sheetMm)} unit={`of ${acrossText(sheetMm)}`} />
        </Row>
      )}
      <Clashes bench={bench} />
    </Section>
  );
}

/** From here on the rest above the bound is worth a longer search. */
const FAR_ABOVE = 0.02;
/** Shares below this are rounding. */
const AT_BOUND = 1e-6;

/** How far the layout is above what nothing can beat, and what rules that; or that there is nothing shorter. */
function LengthBound({ run, bench, over }: { readonly run: RunDetail; readonly bench: Bench; readonly over: number }) {
  const { figures, editable, nest } = bench;
  if (!figures || figures.lengthMm === 0) return null;
  const reason = reasonText(run, figures.boundReason);
  if (over <= AT_BOUND) {
    return (
      <p data-testid="shortest">No shorter layout exists. {reason && <span className="text-soft">{reason}</span>}</p>
    );
  }
  return (
    <>
      <Row label="Minimum">
        <Figure {...acrossFigure(figures.boundMm, 1)} />
      </Row>
      {reason && <p className="text-soft">{reason}</p>}
      <Row label="Longer than the minimum by">
        <Figure value={number(over * 100, 1)} unit="%" />
      </Row>
      {over > FAR_ABOVE && editable && !nest.running && (
        <Button
          className="mt-1 w-full"
          onClick={() => {
            bench.nestAgain(SEARCH_ON_MS);
          }}
        >
          Search on for {SEARCH_ON_MS / 1000} s
        </Button>
      )}
    </>
  );
}

function reasonText(run: RunDetail, reason: BoundReason | null): string | undefined {
  if (reason?.by === 'piece') {
    const name = run.pieces.find((piece) => piece.pieceId === reason.id)?.sourceName ?? 'One piece';
    const { value, unit } = lengthFigure(reason.mm);
    return `${name} alone takes ${value} ${unit}.`;
  }
  if (reason?.by === 'stack') return `${number(reason.count)} pieces are too wide to lie side by side.`;
  return undefined;
}

/** What keeps the run from being queued, told at once and without being asked. */
function Clashes({ bench }: { readonly bench: Bench }) {
  const pairs = bench.figures?.clashes.filter((clash) => clash.kind === 'pair').length ?? 0;
  const outside = (bench.figures?.clashes.length ?? 0) - pairs;
  const tight = bench.figures?.tight.length ?? 0;
  return (
    <div aria-live="polite">
      {pairs > 0 && (
        <p className="text-stop">
          {pairs} {pairs === 1 ? 'pair overlaps' : 'pairs overlap'}
        </p>
      )}
      {outside > 0 && (
        <p className="text-stop">
          {outside} {outside === 1 ? 'piece lies' : 'pieces lie'} outside the usable width
        </p>
      )}
      {tight > 0 && (
        <p className="text-wait">
          {tight} {tight === 1 ? 'pair is' : 'pairs are'} closer than the gap
        </p>
      )}
    </div>
  );
}
