import { FlipHorizontal2, RotateCcw, RotateCw } from 'lucide-react';
import type { TicketPartView } from '../../contract/api/ticket.ts';
import { Section } from '../ui/Sheet.tsx';
import { TicketRow } from './TicketRow.tsx';
import { TilesField } from './TilesField.tsx';
import { ContourField } from './ContourField.tsx';
import type { FormProps } from './formPlace.ts';
import { Checkbox } from '../ui/fields/Checkbox.tsx';
import { LengthInput } from '../ui/fields/LengthInput.tsx';
import { NumberInput } from '../ui/fields/NumberInput.tsx';
import { Select } from '../ui/fields/Select.tsx';

type Turn = NonNullable<TicketPartView['turn']>;

const TURNS: readonly Turn[] = [0, 90, 180, 270];

/** How a piece is turned, mirrored, cut into panels, cut out and bled. */
export function TurnRows({ model, place }: FormProps) {
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
          <Select
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
          <Checkbox
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
        <LengthInput
          label="Bleed"
          valueMm={values.bleedMm ?? null}
          empty="as it is"
          mostMm={500}
          onChange={(bleedMm) => {
            change({ bleedMm });
          }}
        />
      </TicketRow>
    </>
  );
}

/** Where on the media a piece must lie; nested pieces lie where they fit. */
export function PlaceRows({ model, place }: FormProps) {
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
        <Select
          label="Place"
          value={rule?.kind}
          choices={kinds.map((kind) => ({ value: kind, text: names[kind] }))}
          onChange={(kind) => {
            change({ place: kind === 'from edge' || kind === 'below collar' ? { kind, mm: 0 } : { kind } });
          }}
        />
        {rule && 'mm' in rule && (
          <LengthInput
            label="Distance"
            valueMm={rule.mm}
            onChange={(mm) => {
              change({ place: { kind: rule.kind, mm: mm ?? 0 } });
            }}
          />
        )}
      </span>
    </TicketRow>
  );
}

/** How many, and what the nest may do with them. */
export function Copies({ model, place }: FormProps) {
  const { values, change } = model;
  return (
    <Section title="Copies">
      <TicketRow label="Copies" name="copies" model={model}>
        <NumberInput
          label="Copies"
          value={values.copies}
          whole
          least={1}
          most={10_000}
          onChange={(copies) => {
            change({ copies });
          }}
        />
      </TicketRow>
      <TicketRow label="Quarter turn" name="quarterTurn" model={model}>
        <Checkbox
          text="allowed in the nest"
          value={values.quarterTurn}
          onChange={(quarterTurn) => {
            change({ quarterTurn });
          }}
        />
      </TicketRow>
      <TicketRow label="Half turn" name="halfTurn" model={model}>
        <Checkbox
          text="allowed by contour"
          value={values.halfTurn}
          onChange={(halfTurn) => {
            change({ halfTurn });
          }}
        />
      </TicketRow>
      <TicketRow label="Grain" name="grain" model={model}>
        <Select
          label="Grain"
          value={values.grain}
          choices={[
            { value: 'free', text: 'does not matter' },
            { value: 'along', text: 'height along the feed' },
            { value: 'across', text: 'height across the feed' },
          ]}
          onChange={(grain) => {
            change({ grain });
          }}
        />
      </TicketRow>
      <TicketRow label="Together" name="together" model={model}>
        <Checkbox
          text="copies in one block"
          value={values.together}
          onChange={(together) => {
            change({ together });
          }}
        />
      </TicketRow>
      <TicketRow label="Separations" name="separations" model={model}>
        <Select
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
          <Select
            label="Pages"
            value={values.pagesAs}
            choices={['one job', 'a job each']}
            onChange={(pagesAs) => {
              change({ pagesAs });
            }}
          />
        </TicketRow>
      )}
    </Section>
  );
}
