import type { TimerBody } from '../../../../contract/api/care.ts';
import { type Printer, usePrinters, useRuns, useDesigns } from '../../../api/data.ts';
import { Checkbox } from '../../../ui/fields/Checkbox.tsx';
import { Select } from '../../../ui/fields/Select.tsx';
import { Row } from '../../../ui/Sheet.tsx';
import { CARE_SIGNS } from '../../../draw/careSigns.tsx';
import type { TimerDraft } from './timerDraft.ts';

/** Only white settles and has to be stirred. */
export function hasWhite({ config }: Printer): boolean {
  return config.channels.some(({ id }) => id === 'white');
}

/** What the timer does, and on which printer where that follows from it. */
export function WhatFields({
  draft,
  isNew,
  set,
  onDesign,
}: {
  readonly draft: TimerDraft;
  readonly isNew: boolean;
  readonly set: (change: Partial<TimerDraft>) => void;
  readonly onDesign: () => void;
}) {
  const { data: designs = [] } = useDesigns();
  const { data: printers = [] } = usePrinters();
  const { data: runs = [] } = useRuns();
  const held = runs.filter(({ state, fixedStartMs }) => state === 'queued' && fixedStartMs !== null);
  const printer = printers.find(({ id }) => id === draft.printerIds[0]);
  const { what } = draft;
  const nameOf = (id: string): string => printers.find((each) => each.id === id)?.name ?? id;
  const own = isNew ? designs : designs.filter(({ printerId }) => printerId === draft.printerIds[0]);
  const choose = (kind: Exclude<TimerBody['what']['kind'], 'feed'>): void => {
    const [design] = own;
    const [run] = held;
    if (kind === 'purge') {
      if (design) set({ what: { kind, designId: design.id }, printerIds: [design.printerId] });
      else onDesign();
    } else if (kind === 'clean') {
      set({
        what: { kind, strength: 'light', channelIds: printer?.config.channels.map(({ id }) => id) ?? [] },
        printerIds: draft.printerIds.slice(0, 1),
      });
    } else if (kind === 'release') {
      if (run) set({ what: { kind, runId: run.id }, printerIds: [run.printerId], when: 'once' });
    } else if (kind === 'stir') {
      const white = printers.filter(hasWhite).map(({ id }) => id);
      const chosen = draft.printerIds.filter((id) => white.includes(id));
      set({ what: { kind }, printerIds: chosen.length > 0 ? chosen : white });
    } else set({ what: { kind } });
  };
  const kinds = (['purge', 'check', 'clean', 'stir', 'release'] as const)
    .filter((kind) => kind !== 'release' || held.length > 0 || what.kind === 'release')
    .map((value) => ({ value, text: CARE_SIGNS[value].word }));
  return (
    <>
      <Row label="Does">
        <Select label="Does" value={what.kind === 'feed' ? undefined : what.kind} choices={kinds} onChange={choose} />
      </Row>
      {what.kind === 'purge' && (
        <Row label="Purge">
          <Select
            label="Purge"
            value={what.designId}
            choices={own.map(({ id, name, printerId }) => ({ value: id, text: `${name}, ${nameOf(printerId)}` }))}
            onChange={(designId) => {
              const design = own.find(({ id }) => id === designId);
              set({ what: { kind: 'purge', designId }, printerIds: design ? [design.printerId] : draft.printerIds });
            }}
          />
        </Row>
      )}
      {what.kind === 'clean' && (
        <>
          <Row label="Strength">
            <Select
              label="Strength"
              value={what.strength}
              choices={['light', 'deep']}
              onChange={(strength) => {
                set({ what: { ...what, strength } });
              }}
            />
          </Row>
          <div className="flex flex-wrap justify-end gap-x-3 gap-y-1 py-1">
            {printer?.config.channels.map(({ id, name }) => (
              <Checkbox
                key={id}
                text={name}
                value={what.channelIds.includes(id)}
                onChange={(on) => {
                  const channelIds = on ? [...what.channelIds, id] : what.channelIds.filter((each) => each !== id);
                  if (channelIds.length > 0) set({ what: { ...what, channelIds } });
                }}
              />
            ))}
          </div>
        </>
      )}
      {what.kind === 'release' && (
        <Row label="Run">
          <Select
            label="Run"
            value={what.runId}
            choices={held.map(({ id, name }) => ({ value: id, text: name }))}
            onChange={(runId) => {
              const run = held.find(({ id }) => id === runId);
              set({ what: { kind: 'release', runId }, printerIds: run ? [run.printerId] : draft.printerIds });
            }}
          />
        </Row>
      )}
    </>
  );
}
