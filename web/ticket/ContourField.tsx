import { type ContourRule, type CutLine, CONTOUR_SOURCES, cutLineText } from '../../core/contour/contourRule.ts';
import { LengthInput } from '../ui/fields/LengthInput.tsx';
import { Select } from '../ui/fields/Select.tsx';
import { TextInput } from '../ui/fields/TextInput.tsx';

type Line = Pick<CutLine, 'from' | 'name'>;

const FIRST: ContourRule = { from: 'picture', name: null, offsetMm: 0, bleedMm: 2 };
const ANY: Readonly<Record<ContourRule['from'], string>> = {
  spot: 'a spot colour…',
  layer: 'a layer…',
  picture: 'the edge of the picture',
};

function keyOf({ from, name }: Line): string {
  return `${from}/${name ?? ''}`;
}

/**
 * What a piece is cut along. `lines` are those that its file brings; where no file is there yet, or its line is missing, a
 * name is typed. `value` undefined: mixed.
 */
export function ContourField({
  value,
  lines,
  onChange,
}: {
  readonly value: ContourRule | null | undefined;
  readonly lines: readonly Line[];
  readonly onChange: (value: ContourRule | null) => void;
}) {
  const known = lines.find((line) => value && keyOf(line) === keyOf(value));
  const named = value && value.from !== 'picture' && !known;
  const kinds = CONTOUR_SOURCES.filter((from) => from !== 'picture' || !lines.some((line) => line.from === 'picture'));
  return (
    <span className="flex flex-wrap items-center gap-1">
      <Select
        label="Contour"
        value={value === undefined ? undefined : value === null ? 'none' : known ? keyOf(value) : `any ${value.from}`}
        choices={[
          { value: 'none', text: 'its rectangle' },
          ...lines.map((line) => ({ value: keyOf(line), text: cutLineText(line) })),
          ...kinds.map((from) => ({ value: `any ${from}`, text: ANY[from] })),
        ]}
        onChange={(next) => {
          const line = lines.find((each) => keyOf(each) === next);
          const from = CONTOUR_SOURCES.find((each) => next === `any ${each}`);
          if (line) onChange({ ...(value ?? FIRST), from: line.from, name: line.name });
          else if (from) onChange({ ...(value ?? FIRST), from, name: from === 'picture' ? null : 'Contour' });
          else onChange(null);
        }}
      />
      {named && (
        <TextInput
          label={value.from === 'spot' ? 'Name of the spot colour' : 'Name of the layer'}
          value={value.name ?? ''}
          most={100}
          onChange={(name) => {
            if (name !== '') onChange({ ...value, name });
          }}
        />
      )}
      {value && (
        <>
          <span className="inline-flex items-center gap-1">
            <LengthInput
              label="Cut outside of it by"
              valueMm={value.offsetMm}
              leastMm={-100}
              mostMm={100}
              onChange={(mm) => {
                onChange({ ...value, offsetMm: mm ?? 0 });
              }}
            />
            <span className="text-soft">outside</span>
          </span>
          <span className="inline-flex items-center gap-1">
            <LengthInput
              label="Printed beyond the cut"
              valueMm={value.bleedMm}
              mostMm={100}
              onChange={(mm) => {
                onChange({ ...value, bleedMm: mm ?? 0 });
              }}
            />
            <span className="text-soft">bleed</span>
          </span>
        </>
      )}
    </span>
  );
}
