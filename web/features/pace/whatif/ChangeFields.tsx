import { CUT_OFFS, SPANS } from '../../../../core/machine/constants.ts';
import { LengthInput } from '../../../ui/fields/LengthInput.tsx';
import { OptionalNumber } from '../../../ui/fields/OptionalNumber.tsx';
import { Select } from '../../../ui/fields/Select.tsx';
import { Row, Section } from '../../../ui/Sheet.tsx';

const AS_WAS = { value: '', text: 'as it was' };
const CHOICES = [
  {
    title: 'Settings of stocks',
    fields: [
      ['span', 'Carriage over', SPANS],
      ['dryOut', 'Dry-out feed', ['on', 'off']],
      ['dryMin', 'Drying time', { unit: 'min', least: 0, most: 1440 }],
      ['cutOff', 'Cut off', CUT_OFFS],
    ],
  },
  {
    title: 'Of the print mode',
    fields: [
      ['passes', 'Passes', { unit: '', least: 1, most: 64 }],
      [
        'oneDirectional',
        'Direction',
        [
          { value: 'off', text: 'both' },
          { value: 'on', text: 'one' },
        ],
      ],
    ],
  },
  {
    title: 'How runs are laid out',
    fields: [
      ['gap', 'Gap', 'length'],
      [
        'order',
        'Nesting',
        [
          { value: 'free', text: 'free' },
          { value: 'as listed', text: 'off, as listed' },
        ],
      ],
    ],
  },
  {
    title: 'Batches',
    fields: [['collect', 'Collected for', { unit: 'h', least: 1, most: 336 }]],
  },
  {
    title: 'Care',
    fields: [['purge', 'Purges every', { unit: 'd', least: 0, most: 60 }]],
  },
] as const;

/** What would be otherwise: each setting as it was, or one value for all that is looked at. */
export function ChangeFields({
  params,
  printers,
  onChange,
}: {
  readonly params: URLSearchParams;
  readonly printers: readonly { readonly id: string; readonly name: string }[];
  readonly onChange: (change: Readonly<Record<string, string>>) => void;
}) {
  const each = (kind: string, words: (name: string) => string) =>
    printers.map(({ id, name }) => ({ value: `${kind}:${id}`, text: words(name) }));
  return (
    <>
      <Section title="Who prints what">
        <Row label="Printed">
          <Select
            label="Printed"
            value={params.get('who') ?? ''}
            choices={[
              { value: '', text: 'where it was' },
              ...each('to', (name) => `on ${name}`),
              { value: 'rules', text: 'by the routing rules' },
              ...each('without', (name) => `without ${name}`),
              ...each('like', (name) => `with one more ${name}`),
            ]}
            className=""
            onChange={(who) => {
              onChange({ who });
            }}
          />
        </Row>
      </Section>
      {CHOICES.map(({ title, fields }) => (
        <Section key={title} title={title}>
          {fields.map(([key, label, choices]) => (
            <Row key={key} label={label}>
              {choices === 'length' ? (
                <LengthInput
                  label={label}
                  valueMm={figureOf(params, key)}
                  mostMm={500}
                  empty="as it was"
                  onChange={(mm) => {
                    onChange({ [key]: mm === null ? '' : String(mm) });
                  }}
                />
              ) : 'unit' in choices ? (
                <OptionalNumber
                  label={label}
                  value={figureOf(params, key)}
                  {...choices}
                  empty="as it was"
                  onChange={(value) => {
                    onChange({ [key]: value === null ? '' : String(Math.round(value)) });
                  }}
                />
              ) : (
                <Select
                  label={label}
                  value={params.get(key) ?? ''}
                  choices={[AS_WAS, ...choices]}
                  className=""
                  onChange={(value) => {
                    onChange({ [key]: value });
                  }}
                />
              )}
            </Row>
          ))}
        </Section>
      ))}
    </>
  );
}

function figureOf(params: URLSearchParams, key: string): number | null {
  const text = params.get(key);
  return text === null || text === '' || !Number.isFinite(Number(text)) ? null : Number(text);
}
