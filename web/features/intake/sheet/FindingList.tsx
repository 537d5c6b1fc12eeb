import { sizeText } from '../../../ui/text/lengths.ts';
import { useState } from 'react';
import type { FindingView } from '../../../../contract/api/job.ts';
import type { JobChange, TicketValuesView } from '../../../../contract/api/ticket.ts';
import { finishPage } from '../../../../core/ticket/finish.ts';
import type { JobDetail } from '../../../api/data.ts';
import { FindingSign, findingWord } from '../../../draw/FindingSign.tsx';
import { PieceOnMedia } from '../../../draw/PieceOnMedia.tsx';
import { Button } from '../../../ui/Button.tsx';
import { Section } from '../../../ui/Sheet.tsx';
import type { MediaFacts } from '../table/jobPlace.ts';

/** What the check found, and its mends: looked at before and after, to scale, and taken with one click. */
export function FindingList({
  job,
  media,
  onChange,
}: {
  readonly job: JobDetail;
  readonly media: MediaFacts | undefined;
  readonly onChange: (change: JobChange) => void;
}) {
  const [looking, setLooking] = useState<FindingView['mends'][number]>();
  if (job.findings.length === 0) return null;
  return (
    <Section title="Findings">
      {job.findings.map((finding) => (
        <div key={finding.code + finding.text} className="py-1">
          <p className="flex gap-2">
            <span className="mt-0.5">
              <FindingSign severity={finding.severity} />
            </span>
            <span>
              <span className="font-medium">{findingWord(finding.severity)}:</span> {finding.text}
            </span>
          </p>
          {finding.mends.length > 0 && (
            <span className="mt-1 ml-6 flex flex-wrap gap-1">
              {finding.mends.map((mend) => (
                <Button
                  key={mend.text}
                  onMouseEnter={() => {
                    setLooking(mend);
                  }}
                  onFocus={() => {
                    setLooking(mend);
                  }}
                  onMouseLeave={() => {
                    setLooking(undefined);
                  }}
                  onBlur={() => {
                    setLooking(undefined);
                  }}
                  onClick={() => {
                    setLooking(undefined);
                    onChange(mend.change);
                  }}
                >
                  {mend.text}
                </Button>
              ))}
            </span>
          )}
          {looking && finding.mends.includes(looking) && media && (
            <BeforeAfter job={job} media={media} change={looking.change} />
          )}
        </div>
      ))}
    </Section>
  );
}

function BeforeAfter({
  job,
  media,
  change,
}: {
  readonly job: JobDetail;
  readonly media: MediaFacts;
  readonly change: FindingView['mends'][number]['change'];
}) {
  const [first] = job.pageList;
  if (!first) return null;
  const source = { ...first.source, bleed: first.source.bleedMm };
  const values: TicketValuesView = { ...job.ticket.values, ...change };
  const [before, after] = [job.ticket.values, values].map((each) => finishPage(source, each, media.usableWidthMm));
  if (before?.ok !== true || after?.ok !== true) return null;
  const whole = (page: typeof before.value) => ({
    widthMm: page.widthMm + page.bleed.leftMm + page.bleed.rightMm,
    heightMm: page.heightMm + page.bleed.topMm + page.bleed.bottomMm,
    trim: page.bleed,
  });
  // Allowing a quarter turn changes nothing of the page, but how it lies.
  const lies = (page: ReturnType<typeof whole>, quarterTurn: boolean) =>
    quarterTurn && page.widthMm > media.usableWidthMm && page.heightMm <= media.usableWidthMm
      ? { widthMm: page.heightMm, heightMm: page.widthMm }
      : page;
  const was = lies(whole(before.value), job.ticket.values.quarterTurn);
  const will = lies(whole(after.value), values.quarterTurn);
  const scaleForMm = Math.max(was.heightMm, will.heightMm) + Math.max(media.mediaWidthMm * 0.08, 24);
  return (
    <div className="mt-2 ml-6 flex gap-4">
      {(
        [
          ['before', was],
          ['after', will],
        ] as const
      ).map(([name, piece]) => (
        <figure key={name}>
          <PieceOnMedia
            {...piece}
            mediaWidthMm={media.mediaWidthMm}
            usableWidthMm={media.usableWidthMm}
            usableFromMm={media.usableFromMm}
            atMm={0}
            boxPx={{ width: 150, height: 130 }}
            scaleForMm={scaleForMm}
            label={`${name}: ${sizeText(piece.widthMm, piece.heightMm)}`}
          />
          <figcaption className="dense text-soft">
            {name}, {sizeText(piece.widthMm, piece.heightMm)}
          </figcaption>
        </figure>
      ))}
    </div>
  );
}
