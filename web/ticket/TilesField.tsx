import type { TileRule } from '../../core/layout/arrange/tiles.ts';
import { Checkbox } from '../ui/fields/Checkbox.tsx';
import { LengthInput } from '../ui/fields/LengthInput.tsx';
import { Select } from '../ui/fields/Select.tsx';

const FIRST: TileRule = { cut: 'upright', panels: 'equal', joinMm: 10, turnEverySecond: false };

/** How artwork that is wider than the media is cut into panels. `value` undefined: mixed. */
export function TilesField({
  value,
  onChange,
}: {
  readonly value: TileRule | null | undefined;
  readonly onChange: (value: TileRule | null) => void;
}) {
  const kind = value === undefined ? undefined : value === null ? 'one' : `${value.cut}/${value.panels}`;
  return (
    <span className="flex flex-wrap items-center gap-1">
      <Select
        label="Panels"
        value={kind}
        choices={[
          { value: 'one', text: 'in one' },
          { value: 'upright/equal', text: 'side by side, equal' },
          { value: 'upright/full width', text: 'side by side, full width' },
          { value: 'level/equal', text: 'on each other, equal' },
          { value: 'level/full width', text: 'on each other, full width' },
        ]}
        onChange={(next) => {
          if (next === 'one') {
            onChange(null);
            return;
          }
          const [cut, panels] = next.split('/');
          onChange({
            ...(value ?? FIRST),
            cut: cut === 'level' ? 'level' : 'upright',
            panels: panels === 'full width' ? 'full width' : 'equal',
          });
        }}
      />
      {value && (
        <>
          <Select
            label="Between panels"
            value={value.joinMm < 0 ? 'gap' : 'overlap'}
            choices={[
              { value: 'overlap', text: 'overlap' },
              { value: 'gap', text: 'gap, left out' },
            ]}
            onChange={(next) => {
              onChange({ ...value, joinMm: next === 'gap' ? -Math.abs(value.joinMm) || -10 : Math.abs(value.joinMm) });
            }}
          />
          <LengthInput
            label={value.joinMm < 0 ? 'Gap between panels' : 'Overlap of panels'}
            valueMm={Math.abs(value.joinMm)}
            mostMm={500}
            onChange={(mm) => {
              onChange({ ...value, joinMm: value.joinMm < 0 ? -(mm ?? 0) : (mm ?? 0) });
            }}
          />
          <Checkbox
            text="every second one turned by half"
            value={value.turnEverySecond}
            onChange={(turnEverySecond) => {
              onChange({ ...value, turnEverySecond });
            }}
          />
        </>
      )}
    </span>
  );
}
