import { RUN_ORDERS } from '../../../../core/layout/runNest.ts';
import { Row, Section } from '../../../ui/Sheet.tsx';
import type { RunDetail } from '../../../api/data.ts';
import { JobOrder } from './JobOrder.tsx';
import type { Bench } from '../state/useBench.ts';
import { Checkbox } from '../../../ui/fields/Checkbox.tsx';
import { LengthRow } from '../../../ui/fields/LengthRow.tsx';
import { NumberInput } from '../../../ui/fields/NumberInput.tsx';
import { Select } from '../../../ui/fields/Select.tsx';

const ORDER_TEXTS = { free: 'what is shortest', 'as listed': 'rows as listed' } as const;
/** Finer steps pack closer and take longer. */
const TURN_STEPS = [null, 45, 30, 15, 5] as const;
/** What sheets are at first: as long as a roll is often cut by hand. */
const FIRST_SHEET_MM = 1000;
const FIRST_PLACES = { columns: 3, rows: 4 };

/** What the nest must keep to; turning, grain and copies together are said by each job's ticket. */
export function NestRules({ run, bench }: { readonly run: RunDetail; readonly bench: Bench }) {
  const contours = Object.keys(run.contours).length > 0;
  const locked = [...bench.layout.places.values()].some((place) => place.locked === true);
  const { settings } = bench.layout;
  const { order = 'free', straightCuts = false, sheetMm = null, quarterTurns } = settings;
  const { byContour = false, turnStepDeg = null, places = null } = settings;
  const { changeSettings } = bench;
  return (
    <Section title="Nest">
      <fieldset disabled={!bench.editable} className="flex flex-col gap-1">
        <Row label="First on the media">
          <Select
            label="First on the media"
            value={order}
            choices={RUN_ORDERS.map((value) => ({
              value,
              text: value in ORDER_TEXTS ? ORDER_TEXTS[value as keyof typeof ORDER_TEXTS] : value,
            }))}
            onChange={(next) => {
              changeSettings({ order: next });
            }}
          />
        </Row>
        {(order === 'as listed' || places) && <JobOrder run={run} bench={bench} />}
        <Checkbox
          text="Quarter turns where jobs allow"
          value={quarterTurns}
          onChange={(on) => {
            changeSettings({ quarterTurns: on });
          }}
        />
        {contours && (
          <Checkbox
            text="By contour, not by rectangle"
            value={byContour}
            onChange={(on) => {
              // What only rectangles can keep to is left.
              changeSettings(on ? { byContour: true, order: 'free', straightCuts: false } : { byContour: false });
            }}
          />
        )}
        {contours && byContour && locked && sheetMm !== null && (
          <p className="text-soft">On sheets the others lie around locked pieces by rectangle.</p>
        )}
        {contours && byContour && places && <p className="text-soft">Places are filled by rectangle.</p>}
        {contours && byContour && (
          <Row label="Contours turn">
            <Select
              label="Contours turn"
              value={String(turnStepDeg)}
              choices={TURN_STEPS.map((step) => ({
                value: String(step),
                text: step === null ? 'by quarters' : `in steps of ${String(step)}°`,
              }))}
              onChange={(value) => {
                changeSettings({ turnStepDeg: TURN_STEPS.find((step) => String(step) === value) ?? null });
              }}
            />
          </Row>
        )}
        <Checkbox
          text="Straight cuts only"
          value={straightCuts}
          onChange={(on) => {
            changeSettings({ straightCuts: on });
          }}
        />
        <Checkbox
          text="On sheets"
          value={sheetMm !== null}
          onChange={(on) => {
            changeSettings(on ? { sheetMm: FIRST_SHEET_MM } : { sheetMm: null, places: null });
          }}
        />
        {sheetMm !== null && (
          <LengthRow
            label="Length of a sheet"
            valueMm={sheetMm}
            leastMm={10}
            mostMm={100_000}
            disabled={!bench.editable}
            onChange={(mm) => {
              changeSettings({ sheetMm: mm });
            }}
          />
        )}
        {sheetMm !== null && (
          <Checkbox
            text="In places, filled in order"
            value={places !== null}
            onChange={(on) => {
              changeSettings({ places: on ? FIRST_PLACES : null });
            }}
          />
        )}
        {sheetMm !== null && places && (
          <Row label="Places">
            <span className="inline-flex items-center gap-1">
              <NumberInput
                label="Places across"
                value={places.columns}
                whole
                least={1}
                most={200}
                onChange={(columns) => {
                  changeSettings({ places: { ...places, columns } });
                }}
              />
              <span className="text-soft">×</span>
              <NumberInput
                label="Places along"
                value={places.rows}
                whole
                least={1}
                most={200}
                onChange={(rows) => {
                  changeSettings({ places: { ...places, rows } });
                }}
              />
            </span>
          </Row>
        )}
      </fieldset>
    </Section>
  );
}
