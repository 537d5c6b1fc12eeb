import { barExerciseMm, stripExerciseMm } from '../../../../core/care/exercise.ts';
import type { RunDetail } from '../../../../contract/api/run.ts';
import type { MarkSettings } from '../../../../core/layout/marks/markSettings.ts';
import type { Printer } from '../../../api/data.ts';
import { acrossText, alongText } from '../../../ui/text/lengths.ts';

/** From which length on the exercise strip of a run exercises its channels, so that a purge need not. */
export function StripDose({
  strip,
  run,
  printer,
}: {
  readonly strip: MarkSettings['strip'];
  readonly run: RunDetail;
  readonly printer: Printer;
}) {
  const { channels, machine, head, care } = printer.config;
  const { dpiX, dpiY } = run.mode;
  if (strip.edge === 'across') {
    const each = barExerciseMm({ coverage: 1, dpiX, dpiY }, machine.nozzlesPerInch, care.exerciseDrops);
    return (
      <p className="text-soft">
        A bar across the media, all channels one behind another. From {acrossText(each * channels.length)} on it
        exercises every channel.
      </p>
    );
  }
  if (head === 'page-wide') {
    return <p className="text-soft">On a page-wide array an edge exercises only the nozzles over it.</p>;
  }
  const build = { widthMm: strip.widthMm, coverage: 1 / channels.length, dpiX, dpiY };
  const lengthMm = stripExerciseMm(build, machine.nozzlesPerChannel, care.exerciseDrops);
  return <p className="text-soft">It exercises every channel once a run is {alongText(lengthMm)} long.</p>;
}
