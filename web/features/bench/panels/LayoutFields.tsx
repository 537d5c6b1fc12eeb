import { acrossText } from '../../../ui/text/lengths.ts';
import type { RunDetail } from '../../../api/data.ts';
import { Section } from '../../../ui/Sheet.tsx';
import type { Bench } from '../state/useBench.ts';
import { LengthRow } from '../../../ui/fields/LengthRow.tsx';

/** A margin below zero: so far is printed over the edge of the media (mm). */
const MOST_OVER_MM = 20;

/** The gap and the margins of a run; the nest follows each change. */
export function LayoutFields({ bench, run }: { readonly bench: Bench; readonly run: RunDetail }) {
  const { settings } = bench.layout;
  const disabled = !bench.editable;
  return (
    <Section title="Gap and margins">
      <div className="flex flex-col gap-1">
        <LengthRow
          label="Gap"
          valueMm={settings.gapMm}
          mostMm={500}
          disabled={disabled}
          onChange={(gapMm) => {
            bench.changeSettings({ gapMm });
          }}
        />
        <LengthRow
          label="Gap in feed"
          valueMm={settings.gapAlongMm ?? settings.gapMm}
          mostMm={500}
          disabled={disabled}
          onChange={(gapAlongMm) => {
            bench.changeSettings({ gapAlongMm });
          }}
        />
        <LengthRow
          label="Lead margin"
          valueMm={settings.leadMm}
          mostMm={5000}
          disabled={disabled}
          onChange={(leadMm) => {
            bench.changeSettings({ leadMm });
          }}
        />
        <LengthRow
          label="Trail margin"
          valueMm={settings.trailMm}
          mostMm={5000}
          disabled={disabled}
          onChange={(trailMm) => {
            bench.changeSettings({ trailMm });
          }}
        />
        <LengthRow
          label="Left margin"
          valueMm={settings.leftMm}
          leastMm={-MOST_OVER_MM}
          mostMm={run.mediaWidthMm / 2 - 1}
          disabled={disabled}
          onChange={(leftMm) => {
            bench.changeSettings({ leftMm });
          }}
        />
        <LengthRow
          label="Right margin"
          valueMm={settings.rightMm}
          leastMm={-MOST_OVER_MM}
          mostMm={run.mediaWidthMm / 2 - 1}
          disabled={disabled}
          onChange={(rightMm) => {
            bench.changeSettings({ rightMm });
          }}
        />
        <p className="text-right text-soft">
          usable {acrossText(bench.usable.widthMm, 1)} of {acrossText(run.mediaWidthMm)}
          {settings.leftMm < 0 || settings.rightMm < 0 ? ', over its edges' : ''}
        </p>
      </div>
    </Section>
  );
}
