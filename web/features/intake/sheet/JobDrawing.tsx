import { acrossText, sizeText } from '../../../ui/text/lengths.ts';
import { number } from '../../../ui/text/number.ts';
import { useState } from 'react';
import type { JobChange } from '../../../../contract/api/ticket.ts';
import { cutLineText } from '../../../../core/contour/contourRule.ts';
import { feedOf } from '../../../../core/layout/sheets/feedDirection.ts';
import { placeAcross } from '../../../../core/layout/sheets/placeAcross.ts';
import { pictureUrl, type JobDetail } from '../../../api/data.ts';
import { CropPicture } from '../../../draw/CropPicture.tsx';
import { PanelsPicture } from '../../../draw/PanelsPicture.tsx';
import { PieceOnMedia } from '../../../draw/PieceOnMedia.tsx';
import { Button } from '../../../ui/Button.tsx';
import type { MediaFacts } from '../table/jobPlace.ts';

const BOX = { width: 364, height: 240 };

/** A page of the job as it will lie on its media, to scale; or as it came, with the lines of the crop. */
export function JobDrawing({
  job,
  media,
  edge,
  onChange,
}: {
  readonly job: JobDetail;
  readonly media: MediaFacts | undefined;
  readonly edge: 'left' | 'centre' | 'right';
  readonly onChange: (change: JobChange) => void;
}) {
  const [page, setPage] = useState(0);
  const [cropping, setCropping] = useState(false);
  const shown = job.pageList[page];
  if (job.pages === null || !shown) return null;
  const across = shown.widthMm + shown.bleedMm.leftMm + shown.bleedMm.rightMm;
  const along = shown.heightMm + shown.bleedMm.topMm + shown.bleedMm.bottomMm;
  const feed =
    media && !shown.panels && feedOf({ widthMm: across, heightMm: along, ...job.ticket.values }, media.usableWidthMm);
  const turned = feed ? feed.ok && feed.value.turned : false;
  return (
    <figure className="mb-4">
      <div className="flex justify-center rounded bg-paper p-2">
        {cropping || !media ? (
          <CropPicture
            picture={`/api/jobs/${job.id}/pages/${String(page)}/picture?size=view&as=file`}
            widthMm={shown.source.widthMm}
            heightMm={shown.source.heightMm}
            crop={job.ticket.values.crop}
            boxPx={BOX}
            onCrop={(crop) => {
              onChange({ crop });
            }}
          />
        ) : shown.panels ? (
          <PanelsPicture
            picture={pictureUrl(job.id, page, 'view', job.look)}
            widthMm={across}
            heightMm={along}
            panels={shown.panels}
            boxPx={BOX}
            label={`Page ${String(page + 1)} of ${job.sourceName} in ${String(shown.panels.length)} panels, to scale`}
          />
        ) : (
          <PieceOnMedia
            widthMm={across}
            heightMm={along}
            trim={shown.bleedMm}
            cut={shown.contour?.cut}
            mediaWidthMm={media.mediaWidthMm}
            usableWidthMm={media.usableWidthMm}
            usableFromMm={media.usableFromMm}
            atMm={placeAcross(job.ticket.values.place, edge, media.usableWidthMm, across)?.xMm ?? 0}
            picture={pictureUrl(job.id, page, 'view', job.look)}
            boxPx={BOX}
            label={`Page ${String(page + 1)} of ${job.sourceName} on ${media.name}, to scale; the leading edge is at the top`}
          />
        )}
      </div>
      <figcaption className="mt-2 flex items-start justify-between gap-2">
        <span>
          <span className="font-medium">{sizeText(shown.widthMm, shown.heightMm)}</span>{' '}
          <span className="text-soft">
            {shown.contour
              ? `, cut along ${job.ticket.values.contour ? cutLineText(job.ticket.values.contour) : 'a contour'}`
              : ''}
            {shown.bleedMm.leftMm > 0 && !shown.contour ? `, bleed ${acrossText(shown.bleedMm.leftMm, 1)}` : ''}
            {shown.dpi === null ? '' : `, ${number(shown.dpi)} dpi`}
          </span>
          {shown.panels && (
            <span className="dense block">
              {shown.panels.length} panels of up to{' '}
              {sizeText(
                Math.max(...shown.panels.map((p) => p.widthMm)),
                Math.max(...shown.panels.map((p) => p.heightMm)),
              )}
              ,{' '}
              <a className="text-tide hover:underline" href={`/api/jobs/${job.id}/assembly`}>
                assembly map
              </a>
            </span>
          )}
          {media && (
            <span className="dense block text-soft">
              on {media.name}, {acrossText(media.usableWidthMm)} of {acrossText(media.mediaWidthMm)} printable
              {feed && feed.ok
                ? `; the ${feed.value.leadingEdge} edge leads${turned ? ', turned in the nest' : ''}`
                : ''}
            </span>
          )}
        </span>
        <span className="flex shrink-0 items-center gap-1">
          <Button
            kind="quiet"
            aria-pressed={cropping}
            onClick={() => {
              setCropping(!cropping);
            }}
          >
            {cropping ? 'On the media' : 'Crop'}
          </Button>
        </span>
      </figcaption>
      {job.pages > 1 && (
        <span className="flex items-center justify-end gap-1">
          <Button
            kind="quiet"
            disabled={page === 0}
            onClick={() => {
              setPage(page - 1);
            }}
            aria-label="Page before"
          >
            ‹
          </Button>
          <span className="text-soft">
            page {page + 1} of {job.pages}
          </span>
          <Button
            kind="quiet"
            disabled={page === job.pages - 1}
            onClick={() => {
              setPage(page + 1);
            }}
            aria-label="Next page"
          >
            ›
          </Button>
        </span>
      )}
    </figure>
  );
}
