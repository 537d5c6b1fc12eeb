import { feedDirection } from '../layout/feedDirection.ts';

export type Severity = 'block' | 'warn' | 'note';

/** What the check found in a job: a code, how bad it is, a plain sentence, and the figures behind it. */
export interface Finding {
  readonly code: 'resolution' | 'too-wide' | 'must-turn' | 'no-size' | 'page-sizes' | 'too-long' | 'transparency';
  readonly severity: Severity;
  readonly text: string;
  readonly figures: Readonly<Record<string, number>>;
}

export interface CheckedPage {
  readonly widthMm: number;
  readonly heightMm: number;
}

export interface CheckInput {
  readonly pages: readonly CheckedPage[];
  /** Pixels along the width of a picture; absent for vectors. */
  readonly pixelsAcross?: number;
  /** The file did not say how big it is; this density was taken instead. */
  readonly assumedDpi?: number;
  readonly hasAlpha: boolean;
  readonly quarterTurn: boolean;
  readonly usableWidthMm: number;
  readonly mediaName: string;
  readonly printerName: string;
  readonly longestMm: number;
  /** Below the first a warning, below the second a note (dpi). */
  readonly resolution: { readonly warnBelowDpi: number; readonly noteBelowDpi: number };
}

const mm = (value: number): string => `${value.toLocaleString('en-GB', { maximumFractionDigits: 1 })} mm`;

/** Checks a job against the queue it is in. The worst finding comes first. */
export function checkJob(input: CheckInput): Finding[] {
  const findings = [...sizeFindings(input), ...pictureFindings(input)];
  const rank: Record<Severity, number> = { block: 0, warn: 1, note: 2 };
  return findings.sort((a, b) => rank[a.severity] - rank[b.severity]);
}

function sizeFindings(input: CheckInput): Finding[] {
  const findings: Finding[] = [];
  const widest = input.pages.map((page) => ({
    page,
    feed: feedDirection(page.widthMm, page.heightMm, input.usableWidthMm, input.quarterTurn),
  }));
  const over = widest.find(({ feed }) => !feed.ok);
  if (over && !over.feed.ok) {
    const least = over.feed.reason.leastMm;
    const turnHelps = !input.quarterTurn && over.page.heightMm <= input.usableWidthMm;
    findings.push({
      code: 'too-wide',
      severity: 'block',
      text:
        `Wider than ${input.printerName} prints on ${input.mediaName}: ${mm(least)} of ${mm(input.usableWidthMm)}. ` +
        (turnHelps ? 'Allow a quarter turn.' : 'Move it to a wider queue, or make it smaller.'),
      figures: { leastMm: least, usableWidthMm: input.usableWidthMm },
    });
  } else if (widest.some(({ feed }) => feed.ok && feed.value.turned)) {
    findings.push({
      code: 'must-turn',
      severity: 'note',
      text: `Goes through turned: upright it would overrun ${mm(input.usableWidthMm)}.`,
      figures: { usableWidthMm: input.usableWidthMm },
    });
  }
  const longest = Math.max(...input.pages.map((page) => Math.max(page.widthMm, page.heightMm)));
  if (longest > input.longestMm) {
    findings.push({
      code: 'too-long',
      severity: 'block',
      text: `Longer than ${input.printerName} can print in one go: ${mm(longest)} of ${mm(input.longestMm)}.`,
      figures: { longestMm: longest, limitMm: input.longestMm },
    });
  }
  const first = input.pages[0];
  const differing = input.pages.filter(
    (page) => first && (Math.abs(page.widthMm - first.widthMm) > 0.5 || Math.abs(page.heightMm - first.heightMm) > 0.5),
  ).length;
  if (differing > 0) {
    findings.push({
      code: 'page-sizes',
      severity: 'note',
      text: `${String(differing)} of ${String(input.pages.length)} pages differ in size from the first.`,
      figures: { differing, pages: input.pages.length },
    });
  }
  return findings;
}

function pictureFindings(input: CheckInput): Finding[] {
  const findings: Finding[] = [];
  const first = input.pages[0];
  if (input.assumedDpi !== undefined && first) {
    findings.push({
      code: 'no-size',
      severity: 'warn',
      text: `The file doesn't say how big it is; taken at ${String(input.assumedDpi)} dpi: ${mm(first.widthMm)} × ${mm(first.heightMm)}.`,
      figures: { assumedDpi: input.assumedDpi, widthMm: first.widthMm, heightMm: first.heightMm },
    });
  }
  if (input.pixelsAcross !== undefined && first) {
    const dpi = input.pixelsAcross / (first.widthMm / 25.4);
    const { warnBelowDpi, noteBelowDpi } = input.resolution;
    if (dpi < noteBelowDpi - 0.5) {
      findings.push({
        code: 'resolution',
        severity: dpi < warnBelowDpi - 0.5 ? 'warn' : 'note',
        text: `${String(Math.round(dpi))} dpi at this size; ${String(noteBelowDpi)} dpi is wanted.`,
        figures: { dpi, warnBelowDpi, noteBelowDpi },
      });
    }
  }
  if (input.hasAlpha) {
    findings.push({
      code: 'transparency',
      severity: 'note',
      text: 'Has transparent parts: the media shows there.',
      figures: {},
    });
  }
  return findings;
}
