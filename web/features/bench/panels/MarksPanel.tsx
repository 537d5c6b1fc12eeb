import type { RunDetail } from '../../../../contract/api/run.ts';
import { fullMarks } from '../../../../core/layout/marks/markSettings.ts';
import { usePrinters } from '../../../api/data.ts';
import { useNotice } from '../../../app/notice.tsx';
import { SavedForm } from '../../../ui/form/SavedForm.tsx';
import { Section } from '../../../ui/Sheet.tsx';
import { MarkField, MarkGroup } from './MarkGroup.tsx';
import { CODE_CHOICES, PieceTexts } from './PieceTexts.tsx';
import { StripDose } from './StripDose.tsx';
import { MarkPattern } from './MarkPattern.tsx';
import { inUnits } from '../../../ui/text/inUnits.ts';
import type { Bench } from '../state/useBench.ts';

const RUN_WORDS = '{id} {run} {date} {printer} {mode} {stock} {segment}';

/** Which marks the run carries, each with what it is like. They take their space in the nest at once. */
export function MarksPanel({
  run,
  bench,
  white,
}: {
  readonly run: RunDetail;
  readonly bench: Bench;
  readonly white: boolean;
}) {
  const { tell } = useNotice();
  const { onArt, troubles } = bench.marks;
  const { strip } = fullMarks(bench.layout.settings.marks);
  const { data: printers } = usePrinters();
  const printer = printers?.find(({ id }) => id === run.printerId);
  return (
    <Section title="Marks">
      {troubles.map((trouble) => (
        <p key={trouble} className="text-stop" role="alert">
          {inUnits(trouble)}
        </p>
      ))}
      {onArt > 0 && (
        <p className="text-stop" role="alert">
          {onArt} {onArt === 1 ? 'mark lies' : 'marks lie'} on artwork. Nest again: it keeps their space.
        </p>
      )}
      <SavedForm
        value={fullMarks(bench.layout.settings.marks)}
        save={(marks) => {
          bench.changeSettings({ marks });
        }}
        onRefused={tell}
      >
        <fieldset disabled={!bench.editable}>
          <RunMarks white={white} />
          <PieceTexts white={white} />
          <CutMarks />
          <MarkGroup title="Exercise strip" kind="strip">
            <MarkField.Select
              name="strip.edge"
              label="Along the"
              spoken="Edge of the exercise strip"
              choices={[
                { value: 'left', text: 'left edge' },
                { value: 'right', text: 'right edge' },
                { value: 'across', text: 'leading edge' },
              ]}
            />
            <MarkField.Length name="strip.widthMm" label="Width" leastMm={1} mostMm={1000} />
            {strip.edge !== 'across' && (
              <>
                <MarkField.Length name="strip.awayMm" label="From the edge" mostMm={200} />
                <MarkField.Length name="strip.aheadMm" label="Ahead of the first piece" mostMm={500} />
              </>
            )}
            {printer && <StripDose strip={strip} run={run} printer={printer} />}
          </MarkGroup>
        </fieldset>
      </SavedForm>
    </Section>
  );
}

/** What says which run it is, at its ends. */
function RunMarks({ white }: { readonly white: boolean }) {
  return (
    <>
      <MarkGroup title="Trace code" kind="code">
        <MarkField.Select name="code.kind" label="Kind" spoken="Kind of code" choices={CODE_CHOICES} />
        <MarkField.Select
          name="code.ends"
          label="At"
          spoken="Ends with a code"
          choices={[{ value: 'both', text: 'head and foot' }, 'head', 'foot']}
        />
        <MarkField.Length name="code.heightMm" label="Code height" leastMm={3} mostMm={200} />
        <MarkPattern name="code.pattern" label="The code says" words={RUN_WORDS} />
        {white && <MarkField.Check name="code.white" label="White under the code" />}
      </MarkGroup>
      <MarkGroup title="Slug line" kind="slug">
        <MarkField.Length name="slug.heightMm" label="Line height" leastMm={1} mostMm={50} />
        <MarkPattern name="slug.pattern" label="The line says" words={RUN_WORDS} />
      </MarkGroup>
    </>
  );
}

/** What a person or a cutter cuts by. */
function CutMarks() {
  return (
    <>
      <MarkGroup title="Crop marks" kind="crop">
        <MarkField.Length name="crop.lengthMm" label="Length" leastMm={0.5} mostMm={50} />
        <MarkField.Length name="crop.awayMm" label="Away from the artwork" leastMm={0.5} mostMm={50} />
      </MarkGroup>
      <MarkGroup title="Straight-cut marks" kind="cut">
        <MarkField.Length name="cut.lengthMm" label="Length of a tick" leastMm={1} mostMm={50} />
      </MarkGroup>
      <MarkGroup title="Registration marks" kind="registration">
        <MarkField.Select
          name="registration.shape"
          label="Shape"
          spoken="Shape of registration marks"
          choices={[{ value: 'dots', text: 'round dots' }, 'crosses']}
        />
        <MarkField.Length name="registration.sizeMm" label="Size" leastMm={1} mostMm={50} />
        <MarkField.Length name="registration.everyMm" label="No farther apart than" leastMm={20} mostMm={10_000} />
      </MarkGroup>
    </>
  );
}
