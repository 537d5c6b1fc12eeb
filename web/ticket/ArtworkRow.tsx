import { type ArtworkRule, ASSUMED_CMYK, PLAIN_ARTWORK } from '../../core/coats/artworkProfiles.ts';
import { useProfiles } from '../api/data.ts';
import { Checkbox } from '../ui/fields/Checkbox.tsx';
import { Select } from '../ui/fields/Select.tsx';
import { TicketRow } from './TicketRow.tsx';
import type { FormProps } from './formPlace.ts';

/** By which profiles the artwork's own colours are read: those that files bring, and what holds where they bring none. */
export function ArtworkRow({ model }: Pick<FormProps, 'model'>) {
  const { values, change, mixed } = model;
  const rule = mixed.has('artwork') ? undefined : (values.artwork ?? PLAIN_ARTWORK);
  const set = (part: Partial<ArtworkRule>): void => {
    change({ artwork: { ...PLAIN_ARTWORK, ...rule, ...part } });
  };
  return (
    <TicketRow label="Artwork profiles" name="artwork" model={model}>
      <span className="grid max-w-52 grid-cols-[auto_minmax(0,1fr)] items-center gap-x-2 gap-y-1 py-1">
        <Checkbox
          className="col-span-2"
          text="use those that files bring"
          value={rule?.embedded}
          onChange={(embedded) => {
            set({ embedded });
          }}
        />
        <ProfileOf
          space="RGB"
          assumed="sRGB"
          value={rule?.rgb}
          onChange={(rgb) => {
            set({ rgb });
          }}
        />
        <ProfileOf
          space="CMYK"
          assumed={ASSUMED_CMYK}
          value={rule?.cmyk}
          onChange={(cmyk) => {
            set({ cmyk });
          }}
        />
      </span>
    </TicketRow>
  );
}

function ProfileOf({
  space,
  assumed,
  value,
  onChange,
}: {
  readonly space: 'RGB' | 'CMYK';
  readonly assumed: string;
  /** Null: what is assumed. Undefined: mixed. */
  readonly value: string | null | undefined;
  readonly onChange: (value: string | null) => void;
}) {
  const { data: profiles } = useProfiles();
  const names = (profiles ?? [])
    .filter((each) => each.space === space && each.name !== assumed)
    .map(({ name }) => name);
  const missing = value != null && !names.includes(value) ? [{ value, text: `${value}, not here` }] : [];
  return (
    <label className="contents">
      <span className="text-soft">{space}</span>
      <Select
        label={`Profile of ${space} without one`}
        value={value === null ? '' : value}
        choices={[{ value: '', text: assumed }, ...missing, ...names.map((name) => ({ value: name, text: name }))]}
        onChange={(name) => {
          onChange(name === '' ? null : name);
        }}
      />
    </label>
  );
}
