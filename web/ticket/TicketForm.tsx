import { CUT_OFFS } from '../../core/machine/constants.ts';
import { KeepField, MoneyField } from './FinishFields.tsx';
import { FlipHorizontal2, RotateCcw, RotateCw } from 'lucide-react';
import type { CutLine } from '../../core/contour/contourRule.ts';
import { GRAINS } from '../../core/layout/orientations.ts';
import type { TicketPartView } from '../../contract/api/ticket.ts';
import { PRIORITIES } from '../../core/ticket/ticket.ts';
import type { Printer, Stock } from '../api/data.ts';
import { Section } from '../ui/Sheet.tsx';
import { ChargesField } from './ChargesField.tsx';
import { ChoiceField, CountField, DueField, MmField, TextField, TicketRow, YesField } from './fields.tsx';
import { TilesField } from './TilesField.tsx';
import { ContourField } from './ContourField.tsx';
import type { TicketModel } from './model.ts';
import { SizeFields } from './SizeFields.tsx';

export interface FormPlace {
  readonly printer: Printer | undefined;
  readonly stocks: readonly Stock[];
  readonly zone: string;
  /** Spot colours that can be had alone. */
  readonly spots: readonly string[];
  /** Lines of the file that it can be cut along. */
  readonly cutLines: readonly Pick<CutLine, 'from' | 'name'>[];
  /** Settings of arrival only make sense before a job is there. */
  readonly arriving: boolean;
}

interface FormProps {
  readonly model: TicketModel;
  readonly place: FormPlace;
}

type Turn = NonNullable<TicketPartView['turn']>;
const TURNS: readonly Turn[] = [0, 90, 180, 270];
const SPANS = ['whole bed', 'media', 'artwork'] as const;

/** All settings of a ticket, section by section; each row says where its value comes from. */
export function TicketForm({ model, place }: FormProps) {
  return (
    <>
      <Section title="Size">
        <SizeFields model={model} />
        <TurnRows model={model} place={place} />
        <PlaceRows model={model} place={place} />
      </Section>
      <Copies model={model} place={place} />
      <MediaAndMode model={model} place={place} />
      <Finish model={model} place={place} />
      <Order model={model} place={place} />
    </>
  );
}

function TurnRows({ model, place }: FormProps) {
  const { values, change } = model;
  const by = (quarters: number): void => {
    const at = TURNS.indexOf(values.turn === 'best' || values.turn === undefined ? 0 : values.turn);
    change({ turn: TURNS[(at + quarters + 4) % 4] ?? 0 });
  };
  const icon = 'inline-flex h-7 w-8 items-center justify-center rounded border border-rule bg-card hover:border-soft';
  return (
    <>
      <TicketRow label="Turn" name="turn" model={model}>
        <span className="flex items-center gap-1">
          <button
            type="button"
            aria-label="A quarter turn to the left"
            title="A quarter turn to the left"
            className={icon}
            onClick={() => {
              by(1);
            }}
          >
            <RotateCcw size={15} aria-hidden="true" />
          </button>
          <button
            type="button"
            aria-label="A quarter turn to the right"
            title="A quarter turn to the right"
            className={icon}
            onClick={() => {
              by(-1);
            }}
          >
            <RotateCw size={15} aria-hidden="true" />
          </button>
          <ChoiceField
            label="Turn"
            value={values.turn === undefined ? undefined : String(values.turn)}
            choices={[
              ...TURNS.map((turn) => ({ value: String(turn), text: `${String(turn)}°` })),
              { value: 'best', text: 'best' },
            ]}
            onChange={(value) => {
              change({ turn: value === 'best' ? 'best' : (TURNS.find((turn) => String(turn) === value) ?? 0) });
            }}
          />
        </span>
      </TicketRow>
      <TicketRow label="Mirror" name="mirror" model={model}>
        <span className="inline-flex items-center gap-2">
          <YesField
            text="left to right"
            value={values.mirror}
            onChange={(mirror) => {
              change({ mirror });
            }}
          />
          <FlipHorizontal2 size={15} className="text-soft" aria-hidden="true" />
        </span>
      </TicketRow>
      <TicketRow label="Panels" name="tiles" model={model}>
        <TilesField
          value={values.tiles}
          onChange={(tiles) => {
            change({ tiles });
          }}
        />
      </TicketRow>
      <TicketRow label="Contour" name="contour" model={model}>
        <ContourField
          value={values.contour}
          lines={place.cutLines}
          onChange={(contour) => {
            change({ contour });
          }}
        />
      </TicketRow>
      <TicketRow label="Bleed" name="bleedMm" model={model}>
        <MmField
          label="Bleed"
          value={values.bleedMm ?? null}
          empty="as it is"
          most={500}
          onChange={(bleedMm) => {
            change({ bleedMm });
          }}
        />
      </TicketRow>
    </>
  );
}

function PlaceRows({ model, place }: FormProps) {
  const { values, change } = model;
  const rule = values.place;
  const kinds = ['nested', 'from edge', 'centred', 'below collar'] as const;
  const edge = place.printer?.config.registeredEdge ?? 'left';
  const names = {
    nested: 'as nested',
    'from edge': `from the ${edge} edge`,
    centred: 'centred',
    'below collar': 'below the collar',
  };
  return (
    <TicketRow label="Place" name="place" model={model}>
      <span className="flex flex-wrap items-center gap-1">
        <ChoiceField
          label="Place"
          value={rule?.kind}
          choices={kinds.map((kind) => ({ value: kind, text: names[kind] }))}
          onChange={(value) => {
            const kind = kinds.find((each) => each === value) ?? 'nested';
            change({ place: kind === 'from edge' || kind === 'below collar' ? { kind, mm: 0 } : { kind } });
          }}
        />
        {rule && 'mm' in rule && (
          <MmField
            label="Distance"
            value={rule.mm}
            onChange={(mm) => {
              change({ place: { kind: rule.kind, mm: mm ?? 0 } });
            }}
          />
        )}
      </span>
    </TicketRow>
  );
}

function Copies({ model, place }: FormProps) {
  const { values, change } = model;
  return (
    <Section title="Copies">
      <TicketRow label="Copies" name="copies" model={model}>
        <CountField
          label="Copies"
          value={values.copies}
          most={10_000}
          onChange={(copies) => {
            change({ copies });
          }}
        />
      </TicketRow>
      <TicketRow label="Quarter turn" name="quarterTurn" model={model}>
        <YesField
          text="allowed in the nest"
          value={values.quarterTurn}
          onChange={(quarterTurn) => {
            change({ quarterTurn });
          }}
        />
      </TicketRow>
      <TicketRow label="Half turn" name="halfTurn" model={model}>
        <YesField
          text="allowed by contour"
          value={values.halfTurn}
          onChange={(halfTurn) => {
            change({ halfTurn });
          }}
        />
      </TicketRow>
      <TicketRow label="Grain" name="grain" model={model}>
        <ChoiceField
          label="Grain"
          value={values.grain}
          choices={[
            { value: 'free', text: 'does not matter' },
            { value: 'along', text: 'height along the feed' },
            { value: 'across', text: 'height across the feed' },
          ]}
          onChange={(value) => {
            change({ grain: GRAINS.find((each) => each === value) ?? 'free' });
          }}
        />
      </TicketRow>
      <TicketRow label="Together" name="together" model={model}>
        <YesField
          text="copies in one block"
          value={values.together}
          onChange={(together) => {
            change({ together });
          }}
        />
      </TicketRow>
      <TicketRow label="Separations" name="separations" model={model}>
        <ChoiceField
          label="Separations"
          value={
            values.separations?.kind === 'named'
              ? `spot ${values.separations.names.join(', ')}`
              : values.separations?.kind
          }
          choices={[
            { value: 'all inks', text: 'all inks' },
            { value: 'black only', text: 'black only' },
            { value: 'each alone', text: 'each ink alone' },
            ...place.spots.map((spot) => ({ value: `spot ${spot}`, text: `${spot} alone` })),
          ]}
          onChange={(value) => {
            const kind = (['all inks', 'black only', 'each alone'] as const).find((each) => each === value);
            change({ separations: kind ? { kind } : { kind: 'named', names: [value.replace(/^spot /, '')] } });
          }}
        />
      </TicketRow>
      {place.arriving && (
        <TicketRow label="Pages" name="pagesAs" model={model}>
          <ChoiceField
            label="Pages"
            value={values.pagesAs}
            choices={[
              { value: 'one job', text: 'one job' },
              { value: 'a job each', text: 'a job each' },
            ]}
            onChange={(value) => {
              change({ pagesAs: value === 'a job each' ? 'a job each' : 'one job' });
            }}
          />
        </TicketRow>
      )}
    </Section>
  );
}

function modeText(mode: Printer['config']['modes'][number]): string {
  const odd = mode.passes === mode.profilePasses ? '' : ' ⚠ profile differs';
  return `${mode.name}, ${mode.dpiX} × ${mode.dpiY}, ${mode.passes} passes${odd}`;
}

function MediaAndMode({ model, place }: FormProps) {
  const { values, change } = model;
  const { printer, stocks } = place;
  const mode = printer?.config.modes.find((each) => each.id === values.modeId);
  const fitting = stocks.filter((stock) => !printer || stock.widthMm <= printer.config.widestMediaMm);
  return (
    <Section title="Media and mode">
      <TicketRow label="Stock" name="stockId" model={model}>
        <ChoiceField
          label="Stock"
          value={model.mixed.has('stockId') ? undefined : (values.stockId ?? '')}
          choices={[
            ...(values.stockId === undefined && !model.mixed.has('stockId') ? [{ value: '', text: 'left open' }] : []),
            ...fitting.map((each) => ({ value: each.id, text: each.name })),
          ]}
          onChange={(stockId) => {
            if (stockId !== '') change({ stockId });
          }}
        />
      </TicketRow>
      <TicketRow label="Print mode" name="modeId" model={model}>
        <ChoiceField
          label="Print mode"
          value={model.mixed.has('modeId') ? undefined : (values.modeId ?? '')}
          choices={[
            ...(values.modeId === undefined && !model.mixed.has('modeId') ? [{ value: '', text: 'left open' }] : []),
            ...(printer?.config.modes ?? []).map((each) => ({ value: each.id, text: modeText(each) })),
          ]}
          onChange={(modeId) => {
            if (modeId !== '') change({ modeId });
          }}
        />
      </TicketRow>
      {mode && mode.passes !== mode.profilePasses && (
        <p className="text-stop">
          The profile {mode.profile} was made for {mode.profilePasses} passes; this mode prints {mode.passes}.
        </p>
      )}
      <TicketRow label="Carriage span" name="span" model={model}>
        <ChoiceField
          label="Carriage span"
          value={values.span}
          choices={SPANS.map((span) => ({ value: span, text: span }))}
          onChange={(value) => {
            const span = SPANS.find((each) => each === value);
            if (span) change({ span });
          }}
        />
      </TicketRow>
      <TicketRow label="Edge to edge" name="edgeToEdge" model={model}>
        <YesField
          text="without margins"
          value={values.edgeToEdge}
          onChange={(edgeToEdge) => {
            change({ edgeToEdge });
          }}
        />
      </TicketRow>
    </Section>
  );
}

function Finish({ model }: FormProps) {
  const { values, change } = model;
  return (
    <Section title="Finish">
      <TicketRow label="Dry-out feed" name="dryOut" model={model}>
        <YesField
          text="on"
          value={values.dryOut}
          onChange={(dryOut) => {
            change({ dryOut });
          }}
        />
      </TicketRow>
      <TicketRow label="Cut off" name="cutOff" model={model}>
        <ChoiceField
          label="Cut off"
          value={values.cutOff}
          choices={[
            { value: 'none', text: 'none' },
            { value: 'full', text: 'full' },
            { value: 'perforated', text: 'perforated' },
          ]}
          onChange={(value) => {
            const cutOff = CUT_OFFS.find((each) => each === value);
            if (cutOff) change({ cutOff });
          }}
        />
      </TicketRow>
      <TicketRow label="With nobody there" name="unattended" model={model}>
        <YesField
          text="may print"
          value={values.unattended}
          onChange={(unattended) => {
            change({ unattended });
          }}
        />
      </TicketRow>
      <TicketRow label="After printing" name="keep" model={model}>
        <KeepField
          value={values.keep}
          onChange={(keep) => {
            change({ keep });
          }}
        />
      </TicketRow>
    </Section>
  );
}

function Order({ model, place }: FormProps) {
  const { values, change, mixed } = model;
  const text = (key: 'customer' | 'orderNo' | 'notes', label: string, name: string, most = 200) => (
    <TicketRow label={label} name={key} model={model}>
      <TextField
        label={name}
        value={values[key] ?? ''}
        placeholder={mixed.has(key) ? 'mixed' : ''}
        most={most}
        onChange={(value) => {
          change({ [key]: value === '' ? null : value });
        }}
      />
    </TicketRow>
  );
  return (
    <Section title="Order">
      {text('customer', 'Customer', 'Customer')}
      {text('orderNo', 'Order', 'Order', 100)}
      <TicketRow label="Due" name="dueMs" model={model}>
        <DueField
          valueMs={values.dueMs ?? null}
          zone={place.zone}
          onChange={(dueMs) => {
            change({ dueMs });
          }}
        />
      </TicketRow>
      <TicketRow label="Priority" name="priority" model={model}>
        <ChoiceField
          label="Priority"
          value={values.priority}
          choices={PRIORITIES.map((each) => ({ value: each, text: each }))}
          onChange={(value) => {
            const priority = PRIORITIES.find((each) => each === value);
            if (priority) change({ priority });
          }}
        />
      </TicketRow>
      <TicketRow label="An hour late costs" name="latePerHMinor" model={model}>
        <MoneyField
          label="An hour late costs"
          minor={values.latePerHMinor}
          onChange={(latePerHMinor) => {
            change({ latePerHMinor });
          }}
        />
      </TicketRow>
      {text('notes', 'Notes', 'Notes', 2000)}
      <TicketRow label="Extra charges" name="charges" model={model}>
        <ChargesField
          charges={values.charges ?? []}
          onChange={(charges) => {
            change({ charges });
          }}
        />
      </TicketRow>
    </Section>
  );
}
