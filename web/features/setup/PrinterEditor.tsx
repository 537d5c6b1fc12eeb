import { sizeText } from '../../ui/text/lengths.ts';
import type { PrinterConfig } from '../../../contract/api/floor.ts';
import { RENDERING_WAYS, type RenderingWay } from '../../../core/raster/whilePrinting.ts';
import { sendJson } from '../../api/client.ts';
import type { Printer } from '../../api/data.ts';
import { useNotice } from '../../app/notice.tsx';
import { Button } from '../../ui/Button.tsx';
import { NameInput } from '../../ui/fields/NameInput.tsx';
import { Select } from '../../ui/fields/Select.tsx';
import { TextInput } from '../../ui/fields/TextInput.tsx';
import { formFields, useFormField } from '../../ui/form/formFields.tsx';
import { SavedForm } from '../../ui/form/SavedForm.tsx';
import { Row, Section } from '../../ui/Sheet.tsx';
import { ChannelTable, ModeTable, NozzleTable } from './PrinterTables.tsx';

const Field = formFields<PrinterConfig>();

interface PartProps {
  readonly config: PrinterConfig;
}

/** Everything that is said of a printer: every constant that estimates and fits are made from. */
export function PrinterEditor({
  printer,
  onOpen,
}: {
  readonly printer: Printer;
  readonly onOpen: (id: string | null) => void;
}) {
  const { tell } = useNotice();
  const { config } = printer;
  return (
    <div>
      <div className="flex items-start justify-between gap-4 max-phone:flex-col">
        <div className="min-w-0 flex-1">
          <NameInput
            label="Name of the printer"
            value={printer.name}
            onChange={(name) => {
              sendJson('PATCH', `/api/printers/${printer.id}`, { name }).catch(tell);
            }}
          />
          <p className="mt-1 mb-4 px-1 text-soft">
            What you change here counts for estimates and fits from now on. Runs that are laid out keep their layout.
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
            Remove from the floor
          </Button>
        </span>
      </div>
      <SavedForm
        value={config}
        save={(next) => sendJson('PATCH', `/api/printers/${printer.id}`, { config: next })}
        onRefused={tell}
      >
        <div className="grid gap-x-10 min-[1150px]:grid-cols-2">
          <div>
            <Form config={config} />
            <Media />
            <Finishing />
          </div>
          <div>
            <Speeds config={config} />
            <Care />
            <Money />
          </div>
        </div>
        <ModeTable config={config} />
        <NozzleTable config={config} />
        <ChannelTable config={config} />
      </SavedForm>
    </div>
  );
}

/** A printer like this one, to be changed from there: the usual way to a second of the same kind. */
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

/** What kind of machine it is. Sources and beds are as the device has them. */
function Form({ config }: PartProps) {
  return (
    <Section title="Form">
      <Row label="Called">
        <Field.Text bare name="form" label="Form" wanted="Say what it is called." most={80} />
      </Row>
      <Field.Select name="head" label="Head" choices={['carriage', 'page-wide']} />
      <Row label="Sources">
        {config.sources.map(({ name, kind }) => (name === kind ? name : `${name} (${kind})`)).join(', ')}
      </Row>
      {config.beds.length > 0 && (
        <Row label="Beds">{config.beds.map(({ widthMm, lengthMm }) => sizeText(widthMm, lengthMm)).join(', ')}</Row>
      )}
      <Field.Check name="unattended" label="May print unattended" />
      <Field.Check name="colourWithWhite" label="Colour and white in one pass" />
      <Rendering />
      <Pool />
    </Section>
  );
}

/** Who renders what it prints: a printer that fires our dots needs no page of its own to be drawn. */
function Rendering() {
  const [way, keep] = useFormField<RenderingWay | undefined>('rendering');
  return (
    <Row label="Rendering">
      <Select
        label="Rendering"
        value={way ?? 'by the printer'}
        choices={RENDERING_WAYS}
        className=""
        title="By the printer: it is sent the PDF. Render first: it is sent every dot once all are there. While printing: as soon as rendering keeps ahead of it."
        onChange={keep}
      />
    </Row>
  );
}

/** Name of the pool: printers that are alike share one. */
function Pool() {
  const [pool, keep] = useFormField<string | null>('pool');
  return (
    <Row label="Pool of like printers">
      <TextInput
        label="Pool of like printers"
        value={pool ?? ''}
        placeholder="none"
        most={80}
        className="w-44"
        onChange={(name) => {
          keep(name === '' ? null : name);
        }}
      />
    </Row>
  );
}

/** What media it takes and how they lie. The Bench lays out within these figures. */
function Media() {
  return (
    <Section title="Media">
      <Field.Length name="printableWidthMm" label="Printable width" />
      <Field.Length name="widestMediaMm" label="Widest media" />
      <Field.Length name="narrowestMediaMm" label="Narrowest media" />
      <Field.Select name="registeredEdge" label="Media lies against" choices={['left', 'centre', 'right']} />
      <Field.Length name="mediaMarginMm.leftMm" label="Margin left" />
      <Field.Length name="mediaMarginMm.rightMm" label="Margin right" />
      <Field.Length name="leadMm" label="Lead margin" />
      <Field.Length name="trailMm" label="Trail margin" />
      <Field.Length name="longestMm" label="Longest run" />
      <Field.Check name="edgeToEdge" label="Edge to edge" />
      <Field.Length name="oversprayMm" label="Over each edge" />
    </Section>
  );
}

function Finishing() {
  return (
    <Section title="Finishing and what comes out">
      <Field.Check name="finishing.fullCut" label="Full cut" />
      <Field.Check name="finishing.perforate" label="Perforates" />
      <Field.Check name="finishing.contourCut" label="Cuts contours" />
      <Field.Check name="takeUp" label="Take-up" />
      <Field.OptionalLength name="freeHangMm" label="Free-hang length" empty="no limit" leastMm={1} />
      <Field.OptionalLength name="collectsMm" label="Basket or stacker holds" empty="no limit" leastMm={1} />
    </Section>
  );
}

type Machine = PrinterConfig['machine'];

const SPEEDS: readonly (readonly [key: Exclude<keyof Machine, 'cutter'>, label: string, unit: string])[] = [
  ['nozzlesPerChannel', 'Nozzles a channel', ''],
  ['nozzlesPerInch', 'Nozzles an inch', '/in'],
  ['carriageMmPerS', 'Carriage', 'mm/s'],
  ['carriageMmPerS2', 'Carriage acceleration', 'mm/s²'],
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
  ['handS', 'Time at each stop', 's'],
  ['trailerMm', 'Trailer', 'mm'],
];
const OF_A_CARRIAGE = /carriage|dwell|return|bedWidth/i;

/** What the print time is reckoned from. Each is measured once with a stopwatch; a wrong one makes every plan wrong. */
function Speeds({ config: { head, machine } }: PartProps) {
  return (
    <Section title="Speeds and times">
      {SPEEDS.filter(([key]) => head === 'carriage' || !OF_A_CARRIAGE.test(key)).map(([key, label, unit]) => (
        <Field.Number key={key} name={`machine.${key}`} label={label} unit={unit} whole={key === 'nozzlesPerChannel'} />
      ))}
      {head === 'page-wide' && <Field.Number name="machine.bars" label="Bars side by side" whole least={1} most={64} />}
      {machine.cutter && (
        <>
          <Field.Number name="machine.cutter.markReadS" label="Knife: reading marks" unit="s" />
          <Field.Number name="machine.cutter.cutMmPerS" label="Knife: cutting" unit="mm/s" />
          <Field.Number name="machine.cutter.travelMmPerS" label="Knife: travelling" unit="mm/s" />
          <Field.Number name="machine.cutter.liftS" label="Knife: down and up" unit="s" />
        </>
      )}
    </Section>
  );
}

/** What its care takes. */
function Care() {
  return (
    <Section title="Care">
      <Field.Number name="care.exerciseDrops" label="Drops that exercise a nozzle" whole least={1} />
      <Field.Number name="care.check.minutes" label="Nozzle check" unit="min" most={600} />
      <Field.Number name="care.check.mlPerHead" label="Nozzle check, a head" unit="ml" />
      <Field.Number name="care.light.minutes" label="Light clean" unit="min" most={600} />
      <Field.Number name="care.light.mlPerHead" label="Light clean, a head" unit="ml" />
      <Field.Number name="care.deep.minutes" label="Deep clean" unit="min" most={600} />
      <Field.Number name="care.deep.mlPerHead" label="Deep clean, a head" unit="ml" />
      <Field.Number name="care.stirMinutes" label="Stirring" unit="min" most={600} />
      <Field.Number name="care.channelShare" per={0.01} label="Nozzles that must print" unit="%" most={100} />
      <Field.Check name="readsChecks" label="It reads its check plots itself" />
      <Field.Number name="care.restMinutes" label="Rest before a clean is repeated" unit="min" most={10_080} />
      <Field.Number name="care.serviceMinor" per={100} label="Cost of calling service" />
    </Section>
  );
}

function Money() {
  return (
    <Section title="Cost and change-over">
      <Field.Number name="ratePerHourMinor" per={100} label="Cost of an hour" unit="/h" />
      <Field.Number name="changeOver.stockMin" label="To another stock" unit="min" most={600} />
      <Field.Number name="changeOver.modeMin" label="To another mode" unit="min" most={600} />
    </Section>
  );
}
