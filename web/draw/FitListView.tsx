import { alongText } from '../ui/text/lengths.ts';
import { number } from '../ui/text/number.ts';
import { useState } from 'react';
import type { FitAnswer, FitView } from '../../contract/api/fit.ts';
import { durationText } from '../../core/units/durationText.ts';
import { clockText, useZone } from '../app/shopTime.ts';
import { Row } from '../ui/Sheet.tsx';
import { moneyText } from './money.ts';

const TERMS = [
  ['wasteMinor', 'Waste'],
  ['inkMinor', 'Ink'],
  ['timeMinor', 'Time'],
  ['changeOverMinor', 'Change-over'],
  ['lateMinor', 'Late'],
] as const;

/** Printers that can take it, the cheapest first, every term in money; then those that can't, with the figure that fails. */
export function FitListView({
  answer,
  nowMs,
  here,
  onChoose,
  chooseText,
}: {
  readonly answer: FitAnswer;
  readonly nowMs: number;
  /** Where it is now. */
  readonly here: string | null;
  readonly onChoose?: (fit: FitView) => void;
  readonly chooseText: (fit: FitView) => string;
}) {
  const able = answer.fits.filter((fit) => fit.can);
  const dearest = Math.max(1, ...able.map((fit) => fit.totalMinor));
  return (
    <ul aria-label="Fit list" className="flex flex-col gap-1.5">
      {answer.fits.map((fit) => (
        <li key={fit.printerId} className="rounded-md border border-rule px-2.5 py-1.5">
          {fit.can ? (
            <Able
              fit={fit}
              currency={answer.currency}
              dearest={dearest}
              nowMs={nowMs}
              isHere={fit.printerId === here}
            />
          ) : (
            <Unable fit={fit} />
          )}
          {fit.can && fit.printerId !== here && onChoose && (
            <button
              type="button"
              onClick={() => {
                onChoose(fit);
              }}
              className="mt-1 rounded text-tide hover:underline"
            >
              {chooseText(fit)}
            </button>
          )}
        </li>
      ))}
    </ul>
  );
}

type AbleFit = Extract<FitView, { can: true }>;

const FILLS: Record<(typeof TERMS)[number][0], string> = {
  wasteMinor: 'var(--soft)',
  inkMinor: 'var(--tide)',
  timeMinor: 'var(--go)',
  changeOverMinor: 'var(--wait)',
  lateMinor: 'var(--stop)',
};

function Able({
  fit,
  currency,
  dearest,
  nowMs,
  isHere,
}: {
  readonly fit: AbleFit;
  readonly currency: string;
  readonly dearest: number;
  readonly nowMs: number;
  readonly isHere: boolean;
}) {
  const [open, setOpen] = useState(false);
  const zone = useZone();
  return (
    <>
      <button
        type="button"
        aria-expanded={open}
        onClick={() => {
          setOpen(!open);
        }}
        className="block w-full text-left"
      >
        <span className="flex items-baseline gap-2">
          <span className="font-semibold">{fit.printerName}</span>
          {isHere && <span className="rounded bg-spool px-1 text-xs text-on-spool">here</span>}
          <span className="min-w-0 flex-1 truncate text-soft">{fit.why}</span>
          <span className="font-semibold">{moneyText(fit.totalMinor, currency)}</span>
        </span>
        <span className="mt-1 flex h-2 overflow-hidden rounded-sm bg-rule/50" aria-hidden="true">
          {TERMS.map(([term]) => (
            <span
              key={term}
              style={{ width: `${String((fit.terms[term] / dearest) * 100)}%`, background: FILLS[term] }}
            />
          ))}
        </span>
        <span className={`dense ${fit.lateMs > 0 ? 'text-stop' : 'text-soft'}`}>
          {alongText(fit.lengthMm)}, {durationText(fit.timeMs)}, done {clockText(fit.endMs, nowMs, zone)}
          {fit.lateMs > 0 ? `, late by ${durationText(fit.lateMs)}` : ''}
        </span>
        {fit.offcut && (
          <span className="dense block text-go">
            On the offcut {fit.offcut.label} it saves {moneyText(fit.offcut.savedMinor, currency)}
          </span>
        )}
      </button>
      {open && (
        <div className="mt-1 border-t border-rule pt-1">
          {TERMS.map(([term, label]) => (
            <Row key={term} label={label}>
              <span className="inline-flex items-center gap-1.5">
                <span className="size-2.5 rounded-sm" style={{ background: FILLS[term] }} />
                {moneyText(fit.terms[term], currency)}
              </span>
            </Row>
          ))}
          <Row label="Media printed on, not weighed">{moneyText(fit.mediaMinor, currency)}</Row>
          <Row label="Starts">{clockText(fit.startMs, nowMs, zone)}</Row>
          {fit.restsOn.map(({ text, atMs }) => (
            <p key={`${text} ${String(atMs)}`} className="dense text-soft">
              if {text}
              {atMs === null ? '' : ` at ${clockText(atMs, nowMs, zone)}`}
            </p>
          ))}
          {fit.changeOverMin > 0 && <Row label="Change-over">{number(fit.changeOverMin)} min</Row>}
        </div>
      )}
    </>
  );
}

function Unable({ fit }: { readonly fit: Extract<FitView, { can: false }> }) {
  return (
    <>
      <p className="font-semibold text-soft">{fit.printerName}</p>
      {fit.troubles.map((trouble) => (
        <p key={trouble.text} className="leading-snug">
          <span className="text-stop">{trouble.text}.</span> <span className="text-soft">{trouble.way}</span>
        </p>
      ))}
    </>
  );
}
