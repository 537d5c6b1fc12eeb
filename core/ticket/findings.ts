import { counted } from '../counted.ts';
import { cutLineOf, cutLineText } from '../contour/contourRule.ts';
import { panelsAlong } from '../layout/arrange/tiles.ts';
import { feedOf } from '../layout/sheets/feedDirection.ts';
import { colourFindings } from './colourFindings.ts';
import { fileFindings } from './fileFindings.ts';
import { type CheckInput, type Finding, type Mend, type Severity, lies } from './finding.ts';
import type { FinishRefusal } from './finish.ts';
import { mmText, mmSizeText } from '../units/lengthText.ts';

/** Checks a job against the queue it is in. The worst finding comes first. */
export function checkJob(input: CheckInput): Finding[] {
  const rank: Record<Severity, number> = { block: 0, warn: 1, note: 2 };
  const findings = [...sizeFindings(input), ...modeFindings(input), ...colourFindings(input), ...fileFindings(input)];
  return findings.sort((a, b) => rank[a.severity] - rank[b.severity]);
}

/** The one finding of a ticket that makes no print: too much cropped off, or a size beyond all bounds. */
export function noPrintSize(why: FinishRefusal): Finding {
  if (why.code === 'join-too-wide') {
    return {
      code: 'no-print-size',
      severity: 'block',
      text: `Panels of at most ${mmText(why.mostMm)} can't share ${mmText(why.joinMm)} with each other.`,
      figures: { joinMm: why.joinMm, mostMm: why.mostMm },
      mends: [{ text: 'Print it in one', change: { tiles: null } }],
    };
  }
  const size = 'widthMm' in why ? mmSizeText(why.widthMm, why.heightMm) : 'neither width nor height';
  const text: Record<Exclude<FinishRefusal['code'], 'join-too-wide'>, string> = {
    'nothing-left': `The crop leaves nothing of it: ${size}.`,
    'no-size': 'The size names neither width nor height.',
    'out-of-range': `No print can be so big or small: ${size}.`,
  };
  return {
    code: 'no-print-size',
    severity: 'block',
    text: text[why.code],
    figures: 'widthMm' in why ? { widthMm: why.widthMm, heightMm: why.heightMm } : {},
    mends: [
      {
        text: 'Take crop and size off',
        change: { crop: { leftMm: 0, topMm: 0, rightMm: 0, bottomMm: 0 }, size: { kind: 'as it came' } },
      },
    ],
  };
}

/** Whether the pages fit the media and the printer, as they may lie. */
function sizeFindings(input: CheckInput): Finding[] {
  const { values, usableWidthMm, longestMm } = input;
  const findings: Finding[] = [];
  const pages = input.pages.map((page) => ({ page, ...lies(page.finished) }));
  const { quarterTurn, grain } = values;
  const fed = pages.map(({ acrossMm: widthMm, alongMm: heightMm }) =>
    feedOf({ widthMm, heightMm, quarterTurn, grain }, usableWidthMm),
  );
  const over = fed.find((feed) => !feed.ok);
  if (over) findings.push(tooWide(input, over.reason.leastMm));
  else if (fed.some((feed) => feed.ok && feed.value.turned)) {
    findings.push({
      code: 'must-turn',
      severity: 'note',
      text: `Goes through turned: upright it would overrun ${mmText(usableWidthMm)}.`,
      figures: { usableWidthMm },
      mends: values.turn === 0 ? [{ text: 'Turn it now', change: { turn: 'best' } }] : [],
    });
  }
  const longest = Math.max(...pages.map(({ acrossMm, alongMm }) => Math.max(acrossMm, alongMm)));
  if (longest > longestMm) {
    findings.push({
      code: 'too-long',
      severity: 'block',
      text: `Longer than ${input.printerName} can print in one go: ${mmText(longest)} of ${mmText(longestMm)}.`,
      figures: { longestMm: longest, limitMm: longestMm },
      mends: [{ text: `Make it ${mmText(longestMm)} long`, change: { size: { kind: 'length', lengthMm: longestMm } } }],
    });
  }
  return [...findings, ...contourFindings(input), ...pageMedia(input), ...pageSizes(input)];
}

/** A contour that is asked for must be there: what is cut by a line that nobody sees is spoiled. */
function contourFindings({ pages, values: { contour, tiles } }: CheckInput): Finding[] {
  const lacking = pages.filter(({ finished }) => finished.contour === undefined);
  const first = lacking[0];
  if (!contour || !first) return [];
  const asRectangle: Mend = { text: 'Cut it as a rectangle', change: { contour: null } };
  const finding = { code: 'contour', severity: 'block', figures: { pages: lacking.length } } as const;
  if (tiles) {
    const mends: Mend[] = [asRectangle, { text: 'Print it in one', change: { tiles: null } }];
    return [{ ...finding, text: 'Panels can’t be cut along a contour.', mends }];
  }
  const lines = first.source.cutLines ?? [];
  const others = lines.map(({ from, name }): Mend => {
    return { text: `Cut along ${cutLineText({ from, name })}`, change: { contour: { ...contour, from, name } } };
  });
  const where = pages.length > 1 ? ` on ${String(lacking.length)} of ${String(pages.length)} pages` : '';
  if (cutLineOf(lines, contour)) {
    const onIt: Mend = { text: 'Cut on the line itself', change: { contour: { ...contour, offsetMm: 0 } } };
    const text = `Nothing is left of the contour${where} when it is drawn in by ${mmText(-contour.offsetMm)}.`;
    return [{ ...finding, text, mends: [onIt, asRectangle] }];
  }
  const text = `Is to be cut along ${cutLineText(contour)}, but has no such line${where}.`;
  return [{ ...finding, text, mends: [...others.slice(0, 3), asRectangle] }];
}

/** Wider than can be printed, with each way out that would really help. */
function tooWide(input: CheckInput, leastMm: number): Finding {
  const { values, usableWidthMm } = input;
  const free = { quarterTurn: true, grain: 'free' } as const;
  const turnHelps = input.pages.every(({ finished }) => {
    const { acrossMm: widthMm, alongMm: heightMm } = lies(finished);
    return feedOf({ widthMm, heightMm, ...free }, usableWidthMm).ok;
  });
  const turn = values.grain === 'free' ? 'Allow a quarter turn' : 'Let it lie across the grain';
  const tiles = { cut: 'upright', panels: 'equal', joinMm: 10, turnEverySecond: false } as const;
  const widest = Math.max(...input.pages.map(({ finished }) => lies(finished).acrossMm));
  const panels = panelsAlong(widest, usableWidthMm, tiles);
  const mends: Mend[] = [
    { text: `Fit it to ${mmText(usableWidthMm)}`, change: { size: { kind: 'media width' } } },
    ...(panels.ok ? [{ text: `Split it into ${String(panels.value.length)} panels`, change: { tiles } }] : []),
  ];
  if (turnHelps) mends.unshift({ text: turn, change: values.grain === 'free' ? { quarterTurn: true } : free });
  return {
    code: 'too-wide',
    severity: 'block',
    text:
      `Wider than ${input.printerName} prints on ${input.mediaName}: ${mmText(leastMm)} of ${mmText(usableWidthMm)}. ` +
      (turnHelps ? `${turn}.` : 'Move it to a wider queue, or make it smaller.'),
    figures: { leastMm, usableWidthMm },
    mends,
  };
}

/** A page that was clearly made for a roll of about this width, but not quite. */
const NEARLY = 0.08;

/** A width so near to that of the media that it was most likely meant to fill it. */
function pageMedia(input: CheckInput): Finding[] {
  const { usableWidthMm, values } = input;
  if (values.size.kind === 'media width') return [];
  const first = input.pages[0];
  if (!first) return [];
  const { widthMm } = first.finished;
  const off = widthMm - usableWidthMm;
  if (Math.abs(off) < 0.5 || Math.abs(off) > usableWidthMm * NEARLY) return [];
  return [
    {
      code: 'page-media',
      severity: off > 0 ? 'warn' : 'note',
      text: `${mmText(widthMm)} wide, ${mmText(Math.abs(off))} ${off > 0 ? 'more' : 'less'} than the ${mmText(usableWidthMm)} that ${input.mediaName} takes.`,
      figures: { widthMm, usableWidthMm },
      mends: [{ text: `Fit it to ${mmText(usableWidthMm)}`, change: { size: { kind: 'media width' } } }],
    },
  ];
}

/** Pages of different sizes in one file, which most people do not expect. */
function pageSizes(input: CheckInput): Finding[] {
  const first = input.pages[0]?.source;
  const findings: Finding[] = [];
  const differing = input.pages.filter(
    ({ source }) =>
      first && (Math.abs(source.widthMm - first.widthMm) > 0.5 || Math.abs(source.heightMm - first.heightMm) > 0.5),
  ).length;
  const pages = input.pages.length;
  if (differing > 0) {
    findings.push({
      code: 'page-sizes',
      severity: 'note',
      text: `${String(differing)} of ${counted(pages, 'page')} ${differing === 1 ? 'differs' : 'differ'} in size from the first.`,
      figures: { differing, pages },
      mends: [],
    });
  }
  if (pages > input.checks.mostPages) {
    findings.push({
      code: 'page-count',
      severity: 'warn',
      text: `${counted(pages, 'page')}; this queue expects ${String(input.checks.mostPages)} at most.`,
      figures: { pages, mostPages: input.checks.mostPages },
      mends: [],
    });
  }
  return findings;
}

/** A mode or an option that this printer can’t do, or that would ruin the print. */
function modeFindings({ values, modes, suitableModes, mediaName, canEdgeToEdge, printerName }: CheckInput): Finding[] {
  const findings: Finding[] = [];
  const mode = modes.find((each) => each.id === values.modeId);
  if (mode && suitableModes !== null && !suitableModes.includes(mode.id)) {
    const right = modes.filter(({ id }) => suitableModes.includes(id));
    findings.push({
      code: 'mode-stock',
      severity: right.length > 0 ? 'block' : 'warn',
      text:
        right.length > 0
          ? `${mode.name} is not for ${mediaName} on ${printerName}: ${right.map(({ name }) => name).join(' or ')} is.`
          : `No mode of ${printerName} is for ${mediaName}.`,
      figures: { suitable: right.length },
      mends: right.slice(0, 3).map(({ id, name }) => ({ text: `Print as ${name}`, change: { modeId: id } })),
    });
  }
  if (mode && mode.passes !== mode.profilePasses) {
    const right = modes.filter((each) => each.passes === each.profilePasses);
    findings.push({
      code: 'mode-profile',
      severity: 'warn',
      text: `${mode.name} prints ${String(mode.passes)} passes; its profile ${mode.profile} was made for ${String(mode.profilePasses)}.`,
      figures: { passes: mode.passes, profilePasses: mode.profilePasses },
      mends: right.slice(0, 2).map((each) => ({ text: `Print as ${each.name}`, change: { modeId: each.id } })),
    });
  }
  if (values.edgeToEdge && !canEdgeToEdge) {
    findings.push({
      code: 'edge-to-edge',
      severity: 'block',
      text: `${printerName} cannot print edge to edge.`,
      figures: {},
      mends: [{ text: 'Print with margins', change: { edgeToEdge: false } }],
    });
  }
  return findings;
}
