import { ASSUMED_CMYK } from '../coats/artworkProfiles.ts';
import { type CheckInput, type CheckedPage, type Finding, type Mend } from './finding.ts';
import { mmText, mmSizeText } from '../units/lengthText.ts';

/** Below this share of ink a page counts as blank, below the second as nearly blank. */
const BLANK = 0.0002;
const NEARLY_BLANK = 0.003;

/** What is found in the file itself: its pictures, lines, fonts, colours, and empty pages. */
export function fileFindings(input: CheckInput): Finding[] {
  return [
    ...noSize(input),
    ...resolution(input),
    ...bleed(input),
    ...thinLines(input),
    ...blank(input),
    ...fonts(input),
    ...colours(input),
    ...beyondPages(input),
  ];
}

function pagesText(pages: readonly number[]): string {
  const [first] = pages;
  if (first === undefined) return '';
  return pages.length === 1
    ? `Page ${String(first + 1)}`
    : `${String(pages.length)} pages, the first is page ${String(first + 1)},`;
}

/** A picture that does not say how large it is: taken at an assumed density, and said so. */
function noSize({ nature, pages }: CheckInput): Finding[] {
  const first = pages[0]?.source;
  const { assumedDpi } = nature;
  if (assumedDpi === null || !first) return [];
  const mends = [72, 100, 200, 300]
    .filter((dpi) => dpi !== assumedDpi)
    .map((dpi): Mend => {
      const percent = (assumedDpi / dpi) * 100;
      const size = mmSizeText((first.widthMm * percent) / 100, (first.heightMm * percent) / 100);
      return {
        text: `Take it at ${String(dpi)} dpi: ${size}`,
        change: { size: { kind: 'percent', x: percent, y: percent } },
      };
    });
  return [
    {
      code: 'no-size',
      severity: 'warn',
      text: `The file doesn't say how big it is; taken at ${String(assumedDpi)} dpi: ${mmSizeText(first.widthMm, first.heightMm)}.`,
      figures: { assumedDpi, widthMm: first.widthMm, heightMm: first.heightMm },
      mends,
    },
  ];
}

/** Effective resolution of the coarsest picture at the size it is printed. */
export function effectiveDpi({ dpi, finished }: CheckedPage): number | null {
  return dpi === null ? null : dpi / Math.max(finished.scaleX, finished.scaleY);
}

/** Fewer pixels than the queue asks for, at the size that it will be printed in. */
function resolution({ pages, checks, values }: CheckInput): Finding[] {
  const { warnBelowDpi, noteBelowDpi } = checks;
  const all = pages.map(effectiveDpi).filter((dpi) => dpi !== null);
  if (all.length === 0) return [];
  const dpi = Math.min(...all);
  if (dpi >= noteBelowDpi - 0.5) return [];
  const severity = dpi < warnBelowDpi - 0.5 ? 'warn' : 'note';
  const wanted = severity === 'warn' ? warnBelowDpi : noteBelowDpi;
  const first = pages[0];
  const mends: Mend[] = [];
  if (first && (values.size.kind === 'as it came' || values.size.kind === 'percent')) {
    const k = dpi / wanted;
    const was = values.size.kind === 'percent' ? values.size : { x: 100, y: 100 };
    const { widthMm, heightMm } = first.finished;
    mends.push({
      text: `Print it at ${String(wanted)} dpi: ${mmSizeText(widthMm * k, heightMm * k)}`,
      change: { size: { kind: 'percent', x: was.x * k, y: was.y * k } },
    });
  }
  return [
    {
      code: 'resolution',
      severity,
      text: `${String(Math.round(dpi))} dpi at this size; ${String(noteBelowDpi)} dpi is wanted.`,
      figures: { dpi, warnBelowDpi, noteBelowDpi },
      mends,
    },
  ];
}

/** Less artwork beyond the trim than the cut needs. */
function bleed({ pages, checks, values: { contour } }: CheckInput): Finding[] {
  const { bleedMm } = checks;
  // Beyond the edge of a picture there is nothing that could be printed.
  if (bleedMm <= 0 || contour?.from === 'picture') return [];
  const least = contour
    ? contour.bleedMm
    : Math.min(...pages.flatMap(({ finished: { bleed: b } }) => [b.leftMm, b.topMm, b.rightMm, b.bottomMm]));
  if (least >= bleedMm - 0.01) return [];
  return [
    {
      code: 'bleed',
      severity: 'warn',
      text: `${least > 0.01 ? `Bleed of ${mmText(least)}` : 'No bleed'}; ${mmText(bleedMm)} is wanted.`,
      figures: { leastMm: least, wantedMm: bleedMm },
      mends: [
        contour
          ? { text: `Print ${mmText(bleedMm)} beyond the cut`, change: { contour: { ...contour, bleedMm } } }
          : { text: `Draw the artwork out over ${mmText(bleedMm)} of bleed`, change: { bleedMm } },
      ],
    },
  ];
}

/** Lines that would be too thin to be seen, at the size that they will be printed in. */
function thinLines({ pages, checks, values: { contour } }: CheckInput): Finding[] {
  // The line that is cut along is as thin as can be, and is not printed.
  if (contour && contour.from !== 'picture') return [];
  const thin = (page: CheckedPage): number =>
    page.thinnestMm === null ? Infinity : page.thinnestMm * Math.min(page.finished.scaleX, page.finished.scaleY);
  const hit = pages
    .map((page, index) => ({ index, mm: thin(page) }))
    .filter((each) => each.mm < checks.thinLineMm - 1e-6);
  if (hit.length === 0) return [];
  const thinnestMm = Math.min(...hit.map((each) => each.mm));
  return [
    {
      code: 'thin-lines',
      severity: 'warn',
      text: `${pagesText(hit.map(({ index }) => index))} with lines of ${mmText(thinnestMm, 3)}; under ${mmText(checks.thinLineMm, 3)} they may vanish.`,
      figures: { thinnestMm, thinLineMm: checks.thinLineMm, pages: hit.length },
      mends: [],
    },
  ];
}

/** Pages on which there is nothing, or hardly anything: mostly an export that went wrong. */
function blank({ pages }: CheckInput): Finding[] {
  const empty = pages.flatMap((page, index) => (page.coverage < BLANK ? [index] : []));
  const nearly = pages.flatMap((page, index) =>
    page.coverage >= BLANK && page.coverage < NEARLY_BLANK ? [index] : [],
  );
  const findings: Finding[] = [];
  if (empty.length > 0) {
    findings.push({
      code: 'blank',
      severity: 'warn',
      text: `${pagesText(empty)} blank: nothing would be printed.`
        .replace(/^(Page \d+) blank/, '$1 is blank')
        .replace(', blank', ', are blank'),
      figures: { pages: empty.length, first: (empty[0] ?? 0) + 1 },
      mends: [],
    });
  }
  if (nearly.length > 0) {
    const share = Math.max(...nearly.map((index) => pages[index]?.coverage ?? 0)) * 100;
    findings.push({
      code: 'blank',
      severity: 'note',
      text: `${pagesText(nearly)} nearly blank: ink on ${share.toFixed(2)} % at most.`
        .replace(/^(Page \d+) nearly/, '$1 is nearly')
        .replace(', nearly', ', are nearly'),
      figures: { pages: nearly.length, first: (nearly[0] ?? 0) + 1, share },
      mends: [],
    });
  }
  return findings;
}

/** The first names of a list, and how many more there are. */
function listed(names: readonly string[], most = 4): string {
  return `${names.slice(0, most).join(', ')}${names.length > most ? ` and ${String(names.length - most)} more` : ''}`;
}

function fonts({ nature: { missingFonts } }: CheckInput): Finding[] {
  if (missingFonts.length === 0) return [];
  return [
    {
      code: 'fonts',
      severity: 'warn',
      text: `Fonts are not embedded: ${listed(missingFonts)}. Text may come out in another face.`,
      figures: { fonts: missingFonts.length },
      mends: [],
    },
  ];
}

/** Colours that may not come out as they look: mixed spaces, missing profiles, spot colours, transparency. */
function colours({ nature, values: { contour, artwork } }: CheckInput): Finding[] {
  const findings: Finding[] = [];
  const { colourSpaces, profile, hasAlpha } = nature;
  const spots = nature.spots.filter((spot) => contour?.from !== 'spot' || contour.name !== spot);
  const device = colourSpaces.filter((space) => space !== 'grey');
  if (device.length > 1) {
    findings.push({
      code: 'colour',
      severity: 'note',
      text: `Mixes ${device.join(' and ')}; the same colour may come out in two ways.`,
      figures: { spaces: device.length },
      mends: [],
    });
    // RGB without a profile means sRGB everywhere, and Lab says itself how it looks; ink values mean nothing without one.
  } else if (device[0] === 'CMYK' && profile === null) {
    findings.push({
      code: 'colour',
      severity: 'note',
      text: `CMYK without a profile: how its inks should look is not said. It is read as ${artwork.cmyk ?? ASSUMED_CMYK}.`,
      figures: {},
      mends: [],
    });
  }
  if (spots.length > 0) {
    findings.push({
      code: 'spots',
      severity: 'note',
      text: `Spot colours: ${listed(spots, 6)}.`,
      figures: { spots: spots.length },
      mends: [],
    });
  }
  if (nature.overprint === true) {
    findings.push({
      code: 'overprint',
      severity: 'note',
      text: 'Overprint is set: inks add up where colours lie on each other. The picture here does not show that.',
      figures: {},
      mends: [],
    });
  }
  if (hasAlpha) {
    findings.push({
      code: 'transparency',
      severity: 'note',
      text: 'Has transparent parts: the media shows there.',
      figures: {},
      mends: [],
    });
  }
  return findings;
}

/** What of a file is not simply on its pages: layers, stamps and notes, form fields, what its owner forbids; what an SVG loses. */
function beyondPages({ pages, nature: { layers, annotations, forbids, svg, mended } }: CheckInput): Finding[] {
  const found: Finding[] = [];
  const note = (
    code: Finding['code'],
    text: string,
    figures: Finding['figures'],
    severity: Finding['severity'] = 'note',
  ) => found.push({ code, severity, text, figures, mends: [] });
  if (mended === true) {
    note(
      'mended',
      `Its list of pages is broken. ${String(pages.length)} ${pages.length === 1 ? 'page was' : 'pages were'} found: look whether all are there, in their order.`,
      { pages: pages.length },
      'warn',
    );
  }
  if (layers && layers.left.length > 0) {
    note(
      'layers',
      `Layers that are off are not printed: ${listed(layers.left)}. Printed: ${layers.printed.length > 0 ? listed(layers.printed) : 'none'}.`,
      { printed: layers.printed.length, left: layers.left.length },
    );
  }
  if (annotations) {
    const { printed, left, fields, empty } = annotations;
    const parts = [
      printed > 0 ? `${String(printed)} on the page ${printed === 1 ? 'is' : 'are'} printed` : '',
      fields > 0 ? `${String(fields)} form ${fields === 1 ? 'field is' : 'fields are'} printed` : '',
      left > 0 ? `${String(left)} not meant for paper ${left === 1 ? 'is' : 'are'} left out` : '',
    ].filter(Boolean);
    if (parts.length > 0) note('annotations', `Annotations: ${parts.join(', ')}.`, { ...annotations });
    if (empty > 0) {
      note(
        'annotations',
        `${String(empty)} ${empty === 1 ? 'annotation or form field' : 'annotations or form fields'} should print, but the file has no picture of ${empty === 1 ? 'it' : 'them'}. Print the file to a new PDF where it was made.`,
        { empty },
        'warn',
      );
    }
  }
  if (svg) {
    const { rasterDpi, lost, letters } = svg;
    if (rasterDpi !== null) {
      note('rasterised', `Its vectors can't all be kept: it is printed as a picture of ${String(rasterDpi)} dpi.`, {
        rasterDpi,
      });
    }
    if (lost.length > 0) {
      note(
        'lost',
        `Not printed as a browser shows it: ${listed(lost)}. Save it as PDF to be sure.`,
        { lost: lost.length },
        'warn',
      );
    }
    if (letters.length > 0) {
      const some = letters.slice(0, 12).join(' ');
      note(
        'lost',
        `Letters that no typeface here has: ${some}. Turn text into outlines.`,
        { letters: letters.length },
        'warn',
      );
    }
  }
  if (forbids) {
    const what = forbids.length > 0 ? `its owner forbids ${forbids.join(' and ')}` : 'its owner forbids nothing';
    note('locked', `The PDF is locked, and opens without a password; ${what}.`, { forbidden: forbids.length });
  }
  return found;
}
