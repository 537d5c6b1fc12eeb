import { useId } from 'react';
import type { PurgeDesignBody, PurgeFiguresView } from '../../../../contract/api/care.ts';
import { LINE_PITCH } from '../../../../core/raster/dotLines.ts';
import type { Printer } from '../../../api/data.ts';
import { sizeText } from '../../../ui/text/lengths.ts';

const WIDTH_PX = 368;
const HEIGHT_PX = 250;
/** Eight channels side by side can be told apart then. */
const LEAST_PITCH_PX = 28;

/** A purge as it will lie on its media, to scale: lines of each channel that is fired, as thick as they are dense. */
export function PurgePicture({
  design,
  figures,
  printer,
}: {
  readonly design: PurgeDesignBody;
  readonly figures: PurgeFiguresView;
  readonly printer: Printer;
}) {
  const { sheet } = design;
  const { leadMm, mediaMarginMm, channels, modes } = printer.config;
  const patternId = useId();
  const { mediaWidthMm: mediaMm, mediaLengthMm: lengthMm } = figures;
  const scale = Math.min(WIDTH_PX / mediaMm, HEIGHT_PX / lengthMm);
  const fired = channels.filter(({ id }) => (sheet.levels[id] ?? 0) > 0);
  // Lines that would run into one another on a screen are drawn larger; how much of the media they cover stays.
  const dpiX = modes.find(({ id }) => id === design.modeId)?.dpiX ?? 600;
  const truePitchMm = (LINE_PITCH / dpiX) * 25.4;
  const apart = Math.max(1, Math.ceil(LEAST_PITCH_PX / (truePitchMm * scale)));
  // Across the lines, which run at 45°.
  const pitchMm = (truePitchMm * apart) / Math.SQRT2;
  const [w, h] = [mediaMm * scale, lengthMm * scale];
  return (
    <figure className="mb-3">
      <svg
        width={w}
        height={h}
        viewBox={`0 0 ${String(mediaMm)} ${String(lengthMm)}`}
        className="mx-auto block border border-rule bg-white"
        role="img"
        aria-label={`Purge on ${sizeText(mediaMm, lengthMm)}: ${fired.map(({ name }) => name).join(', ')}`}
      >
        {fired.map(({ id, name, colour }, i) => (
          <g key={id}>
            <title>{name}</title>
            <pattern
              id={`${patternId}-${id}`}
              patternUnits="userSpaceOnUse"
              x={(-pitchMm * i) / fired.length}
              width={pitchMm}
              height={pitchMm}
              patternTransform="rotate(45)"
            >
              <rect
                width={pitchMm * sheet.density * (sheet.levels[id] ?? 0)}
                height={pitchMm}
                fill={id === 'white' ? '#C9CED6' : colour}
              />
            </pattern>
            <rect
              x={mediaMarginMm.leftMm}
              y={leadMm}
              width={figures.widthMm}
              height={figures.lengthMm}
              fill={`url(#${patternId}-${id})`}
              style={{ mixBlendMode: 'multiply' }}
            />
          </g>
        ))}
      </svg>
      <figcaption className="dense mt-1 text-center text-soft">
        {sizeText(mediaMm, lengthMm)}, printed {sizeText(figures.widthMm, figures.lengthMm)}
        {fired.some(({ id }) => id === 'white') ? '; white is shown grey' : ''}
        {apart > 1 ? '; lines drawn larger' : ''}
      </figcaption>
    </figure>
  );
}
