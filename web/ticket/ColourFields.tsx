import type { ReactNode } from 'react';
import { Link } from 'react-router';
import { INTENTS } from '../../core/coats/intent.ts';
import { SCREENINGS } from '../../core/coats/screening.ts';
import { PLAIN_TONE, type Tone } from '../../core/coats/tone.ts';
import { useProfiles } from '../api/data.ts';
import { NumberInput } from '../ui/fields/NumberInput.tsx';
import { OptionalNumber } from '../ui/fields/OptionalNumber.tsx';
import { Select } from '../ui/fields/Select.tsx';
import { Section } from '../ui/Sheet.tsx';
import { ArtworkRow } from './ArtworkRow.tsx';
import { TicketRow } from './TicketRow.tsx';
import type { FormProps } from './formPlace.ts';

/** Parts of a tone as fields: percents, and the gamma between them. */
export const TONE_FIELDS = [
  { key: 'brightness', label: 'Brightness', least: -100, most: 100, step: 1, unit: '%' },
  { key: 'contrast', label: 'Contrast', least: -100, most: 100, step: 1, unit: '%' },
  { key: 'gamma', label: 'Gamma', least: 0.2, most: 5, step: 0.05, unit: '' },
  { key: 'saturation', label: 'Saturation', least: -100, most: 100, step: 1, unit: '%' },
] as const satisfies readonly { readonly key: keyof Tone; readonly [more: string]: unknown }[];

/** What colours become: by which profile, and how the artwork is made lighter or more colourful before. */
export function Colour({ model, place, children }: FormProps & { readonly children?: ReactNode }) {
  const { values, change } = model;
  return (
    <Section title="Colour" aside={children}>
      <ProfileRow model={model} place={place} />
      <ArtworkRow model={model} />
      <IntentRow model={model} place={place} />
      <TicketRow label="Screening" name="screening" model={model}>
        <Select
          label="Screening"
          value={values.screening}
          choices={SCREENINGS}
          onChange={(screening) => {
            change({ screening });
          }}
        />
      </TicketRow>
      <InkLimitRow model={model} place={place} />
      <TicketRow label="Tone" name="tone" model={model}>
        <span className="grid w-fit grid-cols-[auto_auto] items-center gap-x-2 gap-y-0.5 py-1">
          {TONE_FIELDS.map(({ key, label, least, most, unit }) => (
            <label key={key} className="contents">
              <span className="text-soft">{label}</span>
              <NumberInput
                label={label}
                value={values.tone?.[key]}
                least={least}
                most={most}
                unit={unit}
                unitClass="w-4"
                className="w-16"
                onChange={(value) => {
                  change({ tone: { ...PLAIN_TONE, ...values.tone, [key]: value } });
                }}
              />
            </label>
          ))}
        </span>
      </TicketRow>
      <TicketRow label="Curves" name="curves" model={model}>
        <span>
          {values.curves === undefined
            ? 'mixed'
            : values.curves.length === 0
              ? 'none'
              : values.curves.map(({ channel }) => channel).join(', ')}
        </span>
      </TicketRow>
      {place.colourPath !== undefined && (
        <Link to={place.colourPath} className="text-tide underline">
          See it in print, before and after
        </Link>
      )}
    </Section>
  );
}

/** Profiles that are here; those for another number of inks than the printer has colours are left out. */
export function ProfileRow({ model, place }: FormProps) {
  const { data: profiles } = useProfiles();
  const { values, change, mixed } = model;
  const colours = place.printer?.config.channels.filter(({ id }) => id !== 'white').length;
  const mode = place.printer?.config.modes.find(({ id }) => id === values.modeId);
  const names = (profiles ?? [])
    .filter(
      ({ name, channels, space }) => name === values.profile || (space !== 'RGB' && (colours ?? channels) === channels),
    )
    .map(({ name }) => name);
  const named = values.profile;
  return (
    <TicketRow label="Profile" name="profile" model={model}>
      <Select
        label="Profile"
        value={mixed.has('profile') ? undefined : (named ?? '')}
        choices={[
          { value: '', text: mode ? `of the mode: ${mode.profile}` : 'of the mode' },
          ...(named == null || names.includes(named) ? [] : [{ value: named, text: `${named}, not here` }]),
          ...names.map((name) => ({ value: name, text: name })),
        ]}
        onChange={(profile) => {
          change({ profile: profile === '' ? null : profile });
        }}
      />
    </TicketRow>
  );
}

export function IntentRow({ model }: FormProps) {
  return (
    <TicketRow label="Intent" name="intent" model={model}>
      <Select
        label="Rendering intent"
        value={model.values.intent}
        choices={INTENTS}
        onChange={(intent) => {
          model.change({ intent });
        }}
      />
    </TicketRow>
  );
}

export function InkLimitRow({ model }: FormProps) {
  const { values, change } = model;
  return (
    <TicketRow label="Ink limit" name="inkLimit" model={model}>
      <OptionalNumber
        label="Ink limit"
        value={values.inkLimit == null ? values.inkLimit : Math.round(values.inkLimit * 1000) / 10}
        least={50}
        most={800}
        unit="%"
        empty="none"
        onChange={(percent) => {
          change({ inkLimit: percent === null ? null : percent / 100 });
        }}
      />
    </TicketRow>
  );
}
