import type { SpoolProposalLine, SpoolProposalSide } from '../../../../contract/api/media/spoolProposal.ts';
import { leftFigure } from '../../../media/spoolText.ts';

const percent = (share: number): string => `${(share * 100).toFixed(3)}%`;

/** Spools rolled out, all of a stock at one scale: what is printed on each, and what is left. A stub is hatched. */
export function SpoolBars({
  side,
  sheetMm,
  longestMm,
}: {
  readonly side: SpoolProposalSide;
  readonly sheetMm: number | null;
  readonly longestMm: number;
}) {
  const text = (mm: number): string => {
    const { value, unit } = leftFigure({ leftMm: mm, sheetMm });
    return `${value} ${unit}`;
  };
  return (
    <ul className="mt-1 grid gap-1">
      {side.lines.map((line) => (
        <li
          key={line.spoolId}
          className="grid grid-cols-[5.5rem_1fr_4.5rem] items-center gap-2 max-phone:grid-cols-[4.5rem_1fr_4rem]"
        >
          <span className="min-w-0">
            <span className="block truncate font-medium">{line.label}</span>
            <span className="dense block truncate text-soft">{placeText(line)}</span>
          </span>
          <span className="relative h-8" style={{ width: percent(Math.max(0.02, line.wasLeftMm / longestMm)) }}>
            <Bar line={line} />
          </span>
          <span
            className={`dense text-right ${line.isStub && line.leftMm > 0 ? 'font-medium text-wait' : 'text-soft'}`}
          >
            {text(line.leftMm)}
            <span className="block">{line.isStub && line.leftMm > 0 ? 'stub' : 'left'}</span>
          </span>
        </li>
      ))}
      {side.without.length > 0 && (
        <li className="text-stop">
          No spool for {side.without.map(({ name, needMm }) => `${name} (${text(needMm)})`).join(', ')}
        </li>
      )}
    </ul>
  );
}

function Bar({ line }: { readonly line: SpoolProposalLine }) {
  const starts = line.runs.map((_, i) => line.runs.slice(0, i).reduce((sum, { needMm }) => sum + needMm, 0));
  return (
    <span
      className={`absolute inset-0 overflow-hidden rounded-[3px] border border-soft ${line.isStub ? 'bg-[repeating-linear-gradient(45deg,var(--wait)_0_2px,transparent_2px_7px)]' : 'bg-card'}`}
    >
      {line.runs.map(({ id, name, needMm, printerName }, i) => {
        const from = (starts[i] ?? 0) / line.wasLeftMm;
        return (
          <span
            key={id}
            title={`${name} on ${printerName}`}
            className="dense absolute inset-y-0 flex items-center overflow-hidden border-r border-card bg-spool px-1 whitespace-nowrap text-on-spool"
            style={{ left: percent(from), width: percent(needMm / line.wasLeftMm) }}
          >
            {name}
          </span>
        );
      })}
    </span>
  );
}

function placeText({ printerId, kind, isUnopened, runs }: SpoolProposalLine): string {
  if (printerId !== null) return `in ${runs[0]?.printerName ?? 'a printer'}`;
  return kind === 'offcut' ? 'offcut' : isUnopened ? 'new' : 'rack, opened';
}
