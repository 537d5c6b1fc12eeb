import { fullMarks } from '../../../../core/layout/marks/markSettings.ts';
import { ChoiceField } from '../../../ticket/fields.tsx';
import { LengthField } from '../../../ui/LengthField.tsx';
import { Row, Section } from '../../../ui/Sheet.tsx';
import { MarkGroup } from './MarkGroup.tsx';
import { CodeKindRow, PieceTexts, type SetMark, WhiteRow } from './PieceTexts.tsx';
import { PatternInput } from './PatternInput.tsx';
import type { Bench } from '../state/useBench.ts';

const RUN_WORDS = '{id} {run} {date} {printer} {mode} {stock} {segment}';

/** Which marks the run carries, each with what it is like. They take their space in the nest at once. */
export function MarksPanel({ bench, white }: { readonly bench: Bench; readonly white: boolean }) {
  const marks = fullMarks(bench.layout.settings.marks);
  const set: SetMark = (key, change) => {
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
        <CodeKindRow
          label="Kind of code"
          kind={marks.code.kind}
          onChange={(kind) => {
            set('code', { kind });
          }}
        />
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
        {white && (
          <WhiteRow
            on={marks.code.white}
            onChange={(on) => {
              set('code', { white: on });
            }}
          />
        )}
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
      <PieceTexts marks={marks} set={set} bench={bench} white={white} />
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
        title="Straight-cut marks"
        on={marks.cut.on}
        onSwitch={(on) => {
          set('cut', { on });
        }}
        bench={bench}
      >
        <LengthField
          label="Length of a tick"
          valueMm={marks.cut.lengthMm}
          leastMm={1}
          mostMm={50}
          onChange={(lengthMm) => {
            set('cut', { lengthMm });
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
