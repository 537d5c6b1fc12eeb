import type { ReactNode } from 'react';
import { CODE_KINDS, type MarkSettings, NO_MARKS } from '../../../core/layout/markSettings.ts';
import { ChoiceField } from '../../ticket/fields.tsx';
import { LengthField } from '../../ui/LengthField.tsx';
import { Row, Section } from '../../ui/Sheet.tsx';
import { PatternInput } from './PatternInput.tsx';
import type { Bench } from './useBench.ts';

const KIND_NAMES = { code39: 'Code 39', code128: 'Code 128', qr: 'QR code' } as const;
const RUN_WORDS = '{id} {run} {date} {printer} {mode} {stock} {segment}';
const PIECE_WORDS = '{job} {order} {customer} {copy} {of} {page} {part} {panel}';

/** Which marks the run carries, each with what it is like. They take their space in the nest at once. */
export function MarksPanel({ bench }: { readonly bench: Bench }) {
  const marks = bench.layout.settings.marks ?? NO_MARKS;
  const set = <K extends keyof MarkSettings>(key: K, change: Partial<MarkSettings[K]>): void => {
    bench.changeSettings({ marks: { ...marks, [key]: { ...marks[key], ...change } } });
  };
  const { onArt, troubles } = bench.marks;
  return (
    <Section title="Marks">
      {troubles.map((trouble) => (
        <p key={trouble} className="text-stop" role="alert">
          {trouble}
        </p>
      ))}
      {onArt > 0 && (
        <p className="text-stop" role="alert">
          {onArt} {onArt === 1 ? 'mark lies' : 'marks lie'} on artwork. Nest again: it keeps their space.
        </p>
      )}
      <MarkGroup
        title="Trace code"
        on={marks.code.on}
        onSwitch={(on) => {
          set('code', { on });
        }}
        bench={bench}
      >
        <Row label="Kind">
          <ChoiceField
            label="Kind of code"
            value={marks.code.kind}
            choices={CODE_KINDS.map((kind) => ({ value: kind, text: KIND_NAMES[kind] }))}
            onChange={(value) => {
              const kind = CODE_KINDS.find((each) => each === value);
              if (kind) set('code', { kind });
            }}
          />
        </Row>
        <Row label="At">
          <ChoiceField
            label="Ends with a code"
            value={marks.code.ends}
            choices={[
              { value: 'both', text: 'head and foot' },
              { value: 'head', text: 'head' },
              { value: 'foot', text: 'foot' },
            ]}
            onChange={(value) => {
              const ends = (['head', 'foot', 'both'] as const).find((each) => each === value);
              if (ends) set('code', { ends });
            }}
          />
        </Row>
        <LengthField
          label="Code height"
          valueMm={marks.code.heightMm}
          leastMm={3}
          mostMm={200}
          onChange={(heightMm) => {
            set('code', { heightMm });
          }}
        />
        <PatternInput
          label="The code says"
          value={marks.code.pattern}
          words={RUN_WORDS}
          onChange={(pattern) => {
            set('code', { pattern });
          }}
        />
      </MarkGroup>
      <MarkGroup
        title="Slug line"
        on={marks.slug.on}
        onSwitch={(on) => {
          set('slug', { on });
        }}
        bench={bench}
      >
        <LengthField
          label="Line height"
          valueMm={marks.slug.heightMm}
          leastMm={1}
          mostMm={50}
          onChange={(heightMm) => {
            set('slug', { heightMm });
          }}
        />
        <PatternInput
          label="The line says"
          value={marks.slug.pattern}
          words={RUN_WORDS}
          onChange={(pattern) => {
            set('slug', { pattern });
          }}
        />
      </MarkGroup>
      <MarkGroup
        title="Labels"
        on={marks.label.on}
        onSwitch={(on) => {
          set('label', { on });
        }}
        bench={bench}
      >
        <LengthField
          label="Label height"
          valueMm={marks.label.heightMm}
          leastMm={1}
          mostMm={50}
          onChange={(heightMm) => {
            set('label', { heightMm });
          }}
        />
        <PatternInput
          label="The label says"
          value={marks.label.pattern}
          words={PIECE_WORDS}
          onChange={(pattern) => {
            set('label', { pattern });
          }}
        />
      </MarkGroup>
      <MarkGroup
        title="Crop marks"
        on={marks.crop.on}
        onSwitch={(on) => {
          set('crop', { on });
        }}
        bench={bench}
      >
        <LengthField
          label="Length"
          valueMm={marks.crop.lengthMm}
          leastMm={0.5}
          mostMm={50}
          onChange={(lengthMm) => {
            set('crop', { lengthMm });
          }}
        />
        <LengthField
          label="Away from the artwork"
          valueMm={marks.crop.awayMm}
          leastMm={0.5}
          mostMm={50}
          onChange={(awayMm) => {
            set('crop', { awayMm });
          }}
        />
      </MarkGroup>
      <MarkGroup
        title="Registration marks"
        on={marks.registration.on}
        onSwitch={(on) => {
          set('registration', { on });
        }}
        bench={bench}
      >
        <Row label="Shape">
          <ChoiceField
            label="Shape of registration marks"
            value={marks.registration.shape}
            choices={[
              { value: 'dots', text: 'round dots' },
              { value: 'crosses', text: 'crosses' },
            ]}
            onChange={(value) => {
              set('registration', { shape: value === 'dots' ? 'dots' : 'crosses' });
            }}
          />
        </Row>
        <LengthField
          label="Size"
          valueMm={marks.registration.sizeMm}
          leastMm={1}
          mostMm={50}
          onChange={(sizeMm) => {
            set('registration', { sizeMm });
          }}
        />
        <LengthField
          label="No farther apart than"
          valueMm={marks.registration.everyMm}
          leastMm={20}
          mostMm={10000}
          onChange={(everyMm) => {
            set('registration', { everyMm });
          }}
        />
      </MarkGroup>
      <MarkGroup
        title="Exercise strip"
        on={marks.strip.on}
        onSwitch={(on) => {
          set('strip', { on });
        }}
        bench={bench}
      >
        <Row label="Along the">
          <ChoiceField
            label="Edge of the exercise strip"
            value={marks.strip.edge}
            choices={[
              { value: 'left', text: 'left edge' },
              { value: 'right', text: 'right edge' },
            ]}
            onChange={(value) => {
              set('strip', { edge: value === 'left' ? 'left' : 'right' });
            }}
          />
        </Row>
        <LengthField
          label="Width"
          valueMm={marks.strip.widthMm}
          leastMm={1}
          mostMm={100}
          onChange={(widthMm) => {
            set('strip', { widthMm });
          }}
        />
        <LengthField
          label="From the edge"
          valueMm={marks.strip.awayMm}
          leastMm={0}
          mostMm={200}
          onChange={(awayMm) => {
            set('strip', { awayMm });
          }}
        />
        <LengthField
          label="Ahead of the first piece"
          valueMm={marks.strip.aheadMm}
          leastMm={0}
          mostMm={500}
          onChange={(aheadMm) => {
            set('strip', { aheadMm });
          }}
        />
      </MarkGroup>
    </Section>
  );
}

function MarkGroup({
  title,
  on,
  onSwitch,
  bench,
  children,
}: {
  readonly title: string;
  readonly on: boolean;
  readonly onSwitch: (on: boolean) => void;
  readonly bench: Bench;
  readonly children: ReactNode;
}) {
  return (
    <fieldset disabled={!bench.editable} className="mb-1">
      <label className="flex items-center justify-between py-0.5">
        <span className={on ? 'font-medium' : 'text-soft'}>{title}</span>
        <input
          type="checkbox"
          checked={on}
          onChange={(event) => {
            onSwitch(event.target.checked);
          }}
          className="size-4 accent-[var(--tide)]"
        />
      </label>
      {on && <div className="mb-2 flex flex-col gap-1 border-l-2 border-rule pl-3">{children}</div>}
    </fieldset>
  );
}
