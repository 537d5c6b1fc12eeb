import { UNITS, type Units } from '../../core/people/preferences.ts';
import { Select } from '../ui/fields/Select.tsx';
import { setPreferences, usePreferences } from '../ui/preferences.ts';

/** Languages whose way of writing numbers and dates can be chosen; the words of the application stay English. */
const LOCALES = [
  { value: 'en-GB', text: '1,234.5, 18 Nov, 14:20' },
  { value: 'en-US', text: '1,234.5, Nov 18, 02:20 PM' },
  { value: 'de-DE', text: '1.234,5, 18. Nov, 14:20' },
  { value: 'fr-FR', text: '1 234,5, 18 nov., 14:20' },
  { value: 'de-CH', text: '1’234.5, 18. Nov, 14:20' },
  { value: 'sv-SE', text: '1 234,5, 18 nov. 14:20' },
] as const;

const UNIT_TEXTS: Readonly<Record<Units, string>> = {
  metric: 'millimetres, metres along the media',
  mm: 'millimetres',
  cm: 'centimetres',
  m: 'metres',
  in: 'inches',
  ft: 'feet',
};

/** How lengths, numbers and dates are shown to this person; fields take any unit all the same. */
export function Reading() {
  const { units, locale } = usePreferences();
  return (
    <div className="mt-1 grid grid-cols-[150px_1fr] items-center gap-y-1.5">
      <span>Lengths in</span>
      <Select
        label="Lengths in"
        className="w-full"
        value={units}
        choices={UNITS.map((value) => ({ value, text: UNIT_TEXTS[value] }))}
        onChange={(value) => {
          setPreferences({ units: value });
        }}
      />
      <span>Numbers and dates as</span>
      <Select
        label="Numbers and dates as"
        className="w-full"
        value={locale}
        choices={LOCALES}
        onChange={(value) => {
          setPreferences({ locale: value });
        }}
      />
    </div>
  );
}
