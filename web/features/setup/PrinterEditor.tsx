import { useState } from 'react';
import type { PrinterConfig } from '../../../contract/api/floor.ts';
import { sendJson } from '../../api/client.ts';
import type { Printer } from '../../api/data.ts';
import { useNotice } from '../../app/notice.tsx';
import { Button } from '../../ui/Button.tsx';
import { Row, Section } from '../../ui/Sheet.tsx';
import { NameField } from './NameField.tsx';
import { NumberField, PickField, TickField, WordField } from './PlainField.tsx';
import { ChannelTable, ModeTable } from './PrinterTables.tsx';

/** Everything that is said of a printer: every constant that estimates and fits are made from. */
export function PrinterEditor({
  printer,
  onOpen,
}: {
  readonly printer: Printer;
  readonly onOpen: (id: string | null) => void;
}) {
  const { tell } = useNotice();
  const [own, setOwn] = useState<PrinterConfig>();
  const config = own ?? printer.config;
  const change = (part: Partial<PrinterConfig>): void => {
    const next = { ...config, ...part };
    setOwn(next);
    sendJson('PATCH', `/api/printers/${printer.id}`, { config: next })
      .catch(tell)
      .finally(() => {
        setOwn(undefined);
      });
  };
  const parts = { config, change };
  return (
    <div>
      <div className="flex items-start justify-between gap-4">
        <div className="min-w-0 flex-1">
          <NameField
            label="Name of the printer"
            value={printer.name}
            onChange={(name) => {
              sendJson('PATCH', `/api/printers/${printer.id}`, { name }).catch(tell);
            }}
          />
          <p className="mt-1 mb-4 px-1 text-soft">
            What you change here counts for estimates and fits from now on; runs that are laid out keep their layout.
          </p>
        </div>
        <span className="flex gap-2">
          <CopyButton printer={printer} onOpen={onOpen} />
          <a
            href={`/api/printers/${printer.id}/file`}
            className="inline-flex h-8 items-center rounded-md border border-rule bg-card px-3 font-medium hover:border-soft"
          >
            As a file
          </a>
          <Button
            kind="danger"
            onClick={() => {
              sendJson('DELETE', `/api/printers/${printer.id}`)
                .then(() => {
                  onOpen(null);
                })
                .catch(tell);
            }}
          >
            Take off the floor
          </Button>
        </span>
      </div>
      <div className="grid gap-x-10 min-[1150px]:grid-cols-2">
        <div>
          <Form {...parts} />
          <Width {...parts} />
          <Finishing {...parts} />
        </div>
        <div>
          <Speeds {...parts} />
          <Money {...parts} />
        </div>
      </div>
      <ModeTable config={config} onChange={change} />
      <ChannelTable config={config} onChange={change} />
    </div>
  );
}

interface PartProps {
  readonly config: PrinterConfig;
  readonly change: (part: Partial<PrinterConfig>) => void;
}

function CopyButton({ printer, onOpen }: { readonly printer: Printer; readonly onOpen: (id: string) => void }) {
  const { tell } = useNotice();
  const copy = (): void => {
    sendJson<Printer>('POST', '/api/printers', {
      name: `${printer.name} copy`,
      from: { kind: 'copy', printerId: printer.id },
    })
      .then((made) => {
        onOpen(made.id);
      })
      .catch(tell);
  };
  return <Button onClick={copy}>Copy</Button>;
}

function Form({ config, change }: PartProps) {
  return (
    <Section title="Form">
      <Row label="Called">
        <WordField
          label="Form"
          value={config.form}
          onChange={(form) => {
            change({ form });
          }}
        />
      </Row>
      <PickField
        label="Head"
        value={config.head}
        choices={['carriage', 'page-wide']}
        onChange={(head) => {
          change({ head });
        }}
      />
      <Row label="Sources">
        {config.sources.map(({ name, kind }) => (name === kind ? name : `${name} (${kind})`)).join(', ')}
      </Row>
      {config.beds.length > 0 && (
        <Row label="Beds">
          {config.beds.map(({ widthMm, lengthMm }) => `${String(widthMm)} × ${String(lengthMm)}`).join(', ')} mm
        </Row>
      )}
      <TickField
        label="May print with nobody there"
        value={config.unattended}
        onChange={(unattended) => {
          change({ unattended });
        }}
      />
      <TickField
        label="Colour and white in one pass"
        value={config.colourWithWhite}
        onChange={(colourWithWhite) => {
          change({ colourWithWhite });
        }}
      />
      <Row label="Pool of like printers">
        <input
          aria-label="Pool of like printers"
          key={config.pool}
          defaultValue={config.pool ?? ''}
          placeholder="none"
          maxLength={80}
          onBlur={(event) => {
            const pool = event.target.value.trim() === '' ? null : event.target.value.trim();
            if (pool !== config.pool) change({ pool });
          }}
          className="h-8 w-44 rounded border border-rule bg-card px-2"
        />
      </Row>
    </Section>
  );
}

function Width({ config, change }: PartProps) {
  const mm = (label: string, value: number, take: (mm: number) => Partial<PrinterConfig>) => (
    <NumberField
      label={label}
      value={value}
      unit="mm"
      onChange={(next) => {
        change(take(next));
      }}
    />
  );
  const { leftMm, rightMm } = config.mediaMarginMm;
  return (
    <Section title="Media">
      {mm('Printable width', config.printableWidthMm, (printableWidthMm) => ({ printableWidthMm }))}
      {mm('Widest media', config.widestMediaMm, (widestMediaMm) => ({ widestMediaMm }))}
      {mm('Narrowest media', config.narrowestMediaMm, (narrowestMediaMm) => ({ narrowestMediaMm }))}
      <PickField
        label="Media lies against"
        value={config.registeredEdge}
        choices={['left', 'centre', 'right']}
        onChange={(registeredEdge) => {
          change({ registeredEdge });
        }}
      />
      {mm('Margin left', leftMm, (next) => ({ mediaMarginMm: { leftMm: next, rightMm } }))}
      {mm('Margin right', rightMm, (next) => ({ mediaMarginMm: { leftMm, rightMm: next } }))}
      {mm('Lead margin', config.leadMm, (leadMm) => ({ leadMm }))}
      {mm('Trail margin', config.trailMm, (trailMm) => ({ trailMm }))}
      {mm('Longest run', config.longestMm, (longestMm) => ({ longestMm }))}
      <TickField
        label="Edge to edge"
        value={config.edgeToEdge}
        onChange={(edgeToEdge) => {
          change({ edgeToEdge });
        }}
      />
    </Section>
  );
}

function Finishing({ config, change }: PartProps) {
  const { finishing } = config;
  const tick = (label: string, key: keyof typeof finishing) => (
    <TickField
      label={label}
      value={finishing[key]}
      onChange={(value) => {
        change({ finishing: { ...finishing, [key]: value } });
      }}
    />
  );
  return (
    <Section title="Finishing and what comes out">
      {tick('Full cut', 'fullCut')}
      {tick('Perforates', 'perforate')}
      {tick('Cuts contours', 'contourCut')}
      <TickField
        label="Take-up"
        value={config.takeUp}
        onChange={(takeUp) => {
          change({ takeUp });
        }}
      />
      <NumberField
        label="Free-hang length, 0: no limit"
        value={config.freeHangMm ?? 0}
        unit="mm"
        onChange={(mm) => {
          change({ freeHangMm: mm === 0 ? null : mm });
        }}
      />
      <NumberField
        label="Basket or stacker holds, 0: no limit"
        value={config.collectsMm ?? 0}
        unit="mm"
        onChange={(mm) => {
          change({ collectsMm: mm === 0 ? null : mm });
        }}
      />
    </Section>
  );
}

type Machine = PrinterConfig['machine'];

const SPEEDS: readonly (readonly [key: Exclude<keyof Machine, 'cutter'>, label: string, unit: string])[] = [
  ['nozzlesPerChannel', 'Nozzles a channel', ''],
  ['nozzlesPerInch', 'Nozzles an inch', '/in'],
  ['carriageMmPerS', 'Carriage', 'mm/s'],
  ['carriageMmPerS2', 'Its acceleration', 'mm/s²'],
  ['dwellS', 'Dwell at each end', 's'],
  ['returnMmPerS', 'Empty return', 'mm/s'],
  ['feedMmPerS', 'Feed over blank', 'mm/s'],
  ['backFeedMmPerS', 'Back-feed', 'mm/s'],
  ['dryOutMmPerS', 'Dry-out feed', 'mm/s'],
  ['bedWidthMm', 'Whole bed', 'mm'],
  ['startUpS', 'Start-up', 's'],
  ['fullCutS', 'Full cut', 's'],
  ['perforateS', 'Perforating', 's'],
  ['loadS', 'Loading a sheet', 's'],
  ['handS', 'A person at a stop', 's'],
  ['trailerMm', 'Trailer', 'mm'],
];

function Speeds({ config, change }: PartProps) {
  const { machine } = config;
  return (
    <Section title="Speeds and times">
      {SPEEDS.filter(([key]) => config.head === 'carriage' || !/carriage|dwell|return|bedWidth/i.test(key)).map(
        ([key, label, unit]) => (
          <NumberField
            key={key}
            label={label}
            value={machine[key]}
            unit={unit}
            whole={key === 'nozzlesPerChannel'}
            onChange={(value) => {
              change({ machine: { ...machine, [key]: value } });
            }}
          />
        ),
      )}
      {machine.cutter && (
        <Cutter
          cutter={machine.cutter}
          onChange={(cutter) => {
            change({ machine: { ...machine, cutter } });
          }}
        />
      )}
    </Section>
  );
}

function Cutter({
  cutter,
  onChange,
}: {
  readonly cutter: NonNullable<Machine['cutter']>;
  readonly onChange: (cutter: NonNullable<Machine['cutter']>) => void;
}) {
  const field = (label: string, key: keyof typeof cutter, unit: string) => (
    <NumberField
      label={label}
      value={cutter[key]}
      unit={unit}
      onChange={(value) => {
        onChange({ ...cutter, [key]: value });
      }}
    />
  );
  return (
    <>
      {field('Knife: reading marks', 'markReadS', 's')}
      {field('Knife: cutting', 'cutMmPerS', 'mm/s')}
      {field('Knife: travelling', 'travelMmPerS', 'mm/s')}
      {field('Knife: down and up', 'liftS', 's')}
    </>
  );
}

function Money({ config, change }: PartProps) {
  const { changeOver } = config;
  return (
    <Section title="Cost and change-over">
      <NumberField
        label="An hour of it"
        value={config.ratePerHourMinor / 100}
        unit="/h"
        onChange={(value) => {
          change({ ratePerHourMinor: Math.round(value * 100) });
        }}
      />
      <NumberField
        label="To another stock"
        value={changeOver.stockMin}
        unit="min"
        most={600}
        onChange={(stockMin) => {
          change({ changeOver: { ...changeOver, stockMin } });
        }}
      />
      <NumberField
        label="To another mode"
        value={changeOver.modeMin}
        unit="min"
        most={600}
        onChange={(modeMin) => {
          change({ changeOver: { ...changeOver, modeMin } });
        }}
      />
    </Section>
  );
}
