import { acrossFigure, acrossText, sizeText } from '../../../ui/text/lengths.ts';
import { number } from '../../../ui/text/number.ts';
import { ROW_TURNS, type RowTurn, STAGGERS, type Stagger } from '../../../../core/layout/arrange/stepAndRepeat.ts';
import { Button } from '../../../ui/Button.tsx';
import { Row, Section } from '../../../ui/Sheet.tsx';
import type { Step } from '../state/useStep.ts';
import { Checkbox } from '../../../ui/fields/Checkbox.tsx';
import { LengthRow } from '../../../ui/fields/LengthRow.tsx';
import { NumberInput } from '../../../ui/fields/NumberInput.tsx';
import { Select } from '../../../ui/fields/Select.tsx';

const STAGGER_TEXTS: Readonly<Record<Stagger, string>> = {
  none: 'straight',
  rows: 'every second row shifted',
  columns: 'every second column shifted',
  'each row': 'each row shifted farther',
};
const TURN_TEXTS: Readonly<Record<RowTurn, string>> = {
  none: 'all the same',
  half: 'every second row by half',
  quarter: 'every second row by a quarter',
};

/** Pieces of one size in rows and columns: the chosen ones, or all of the run. They are shown on the media as they are set. */
export function StepPanel({ step }: { readonly step: Step | undefined }) {
  if (!step) return null;
  const { open, setOpen } = step;
  return (
    <Section
      title="Step and repeat"
      aside={
        <button
          type="button"
          aria-expanded={open}
          className="text-tide hover:underline"
          onClick={() => {
            setOpen(!open);
          }}
        >
          {open ? 'Close' : 'Open'}
        </button>
      }
    >
      {!open ? (
        <p className="text-soft">Rows and columns instead of a nest.</p>
      ) : step.trouble !== undefined ? (
        <p className="text-soft">{step.trouble}</p>
      ) : (
        <StepForm step={step} />
      )}
    </Section>
  );
}

/** Rows and columns in figures; the same can be pulled on the media. */
function StepForm({ step }: { readonly step: Step }) {
  const { choice, choose, piece, pieces, space, stepped, canFill } = step;
  const { columns, gapXMm, gapYMm, stagger, shiftMm, lengthMm } = choice;
  const pitch = stagger === 'columns' ? piece.heightMm + gapYMm : piece.widthMm + gapXMm;
  return (
    <div className="flex flex-col gap-1">
      <p className="text-soft">
        {step.whose} {number(pieces.length)}, {sizeText(piece.widthMm, piece.heightMm)} as they lie
      </p>
      <Row label="Columns">
        <span className="inline-flex items-center gap-2">
          <Checkbox
            text="fill the width"
            value={columns === null}
            onChange={(on) => {
              choose({ columns: on ? null : (stepped?.columns ?? 1) });
            }}
          />
          {columns !== null && (
            <NumberInput
              label="Columns"
              value={columns}
              whole
              least={1}
              most={10_000}
              onChange={(value) => {
                choose({ columns: value });
              }}
            />
          )}
        </span>
      </Row>
      {canFill && (
        <Row label="Rows">
          <Checkbox
            text="fill a length"
            value={lengthMm !== null}
            onChange={(on) => {
              choose({ lengthMm: on ? Math.round(stepped?.extentMm ?? 1000) : null });
            }}
          />
        </Row>
      )}
      {lengthMm !== null && (
        <LengthRow
          label="Length of the rows"
          valueMm={lengthMm}
          leastMm={1}
          mostMm={100_000}
          onChange={(mm) => {
            choose({ lengthMm: mm });
          }}
        />
      )}
      <LengthRow
        label="Gap across"
        valueMm={gapXMm}
        leastMm={space.gapXMm}
        mostMm={5000}
        onChange={(mm) => {
          choose({ gapXMm: mm });
        }}
      />
      <LengthRow
        label="Gap along"
        valueMm={gapYMm}
        leastMm={space.gapYMm}
        mostMm={5000}
        onChange={(mm) => {
          choose({ gapYMm: mm });
        }}
      />
      <Row label="Rows lie">
        <Select
          label="How rows lie"
          value={stagger}
          choices={STAGGERS.map((value) => ({ value, text: STAGGER_TEXTS[value] }))}
          onChange={(next) => {
            choose({ stagger: next, shiftMm: null });
          }}
        />
      </Row>
      {stagger !== 'none' && (
        <LengthRow
          label="Shifted by"
          valueMm={shiftMm ?? pitch / 2}
          mostMm={pitch}
          onChange={(mm) => {
            choose({ shiftMm: mm });
          }}
        />
      )}
      <Row label="Turned">
        <Select
          label="How rows are turned"
          value={choice.everySecond}
          choices={ROW_TURNS.filter((turn) => turn !== 'quarter' || step.canTurn).map((value) => ({
            value,
            text: TURN_TEXTS[value],
          }))}
          onChange={(everySecond) => {
            choose({ everySecond });
          }}
        />
      </Row>
      {step.canTurn && (
        <Checkbox
          text="First row a quarter turned"
          value={choice.turned}
          onChange={(turned) => {
            choose({ turned });
          }}
        />
      )}
      <Outcome step={step} pitchMm={pitch} />
    </div>
  );
}

/** What comes of the figures: how many lie, how many stay, and the length as a sum that can be checked by hand. */
function Outcome({ step, pitchMm }: { readonly step: Step; readonly pitchMm: number }) {
  const { stepped, space, piece, pieces, choice, roomMm } = step;
  if (!stepped) {
    return piece.widthMm > roomMm ? (
      <p className="text-stop">
        Wider than the usable width: {acrossText(piece.widthMm, 1)} of {acrossText(roomMm, 1)}.
      </p>
    ) : (
      <p className="text-stop">
        Not one row fits: {acrossText(piece.heightMm, 1)} of {acrossText(choice.lengthMm ?? 0, 1)}.
      </p>
    );
  }
  const { columns, rows, extentMm, corners } = stepped;
  const more = corners.length - pieces.length;
  const needs = acrossText(space.leadMm + extentMm + space.trailMm, 1);
  const bare = (mm: number): string => acrossFigure(mm, 1).value;
  return (
    <>
      <p>
        {number(columns)} across × {number(rows)} along
        {more > 0 ? `, ${number(more)} more than are here` : more < 0 ? `; ${number(-more)} stay waiting` : ''}
      </p>
      {choice.everySecond === 'quarter' ? (
        <p className="text-soft">
          Needs <span className="text-ink">{needs}</span>
        </p>
      ) : (
        <details className="text-soft">
          <summary className="cursor-pointer">
            Needs <span className="text-ink">{needs}</span>
          </summary>
          {bare(space.leadMm)} + {number(rows)} × {bare(piece.heightMm)} + {number(rows - 1)} × {bare(choice.gapYMm)}
          {choice.stagger === 'columns' && columns > 1 ? ` + ${bare(choice.shiftMm ?? pitchMm / 2)}` : ''} +{' '}
          {acrossText(space.trailMm, 1)}
        </details>
      )}
      <Button className="mt-1" onClick={step.apply}>
        {more === 0 ? 'Lay in rows' : `Lay ${number(corners.length)} in rows`}
      </Button>
    </>
  );
}
