import type { TicketPartView } from '../../../../contract/api/ticket.ts';
import { CUT_OFFS, SPANS } from '../../../../core/machine/constants.ts';
import { OptionalNumber } from '../../../ui/fields/OptionalNumber.tsx';
import { Select } from '../../../ui/fields/Select.tsx';
import { Row } from '../../../ui/Sheet.tsx';

/** Run settings that a stock may name; what is left open comes from printer and queue. */
export const RUN_SETTINGS = [
  { key: 'dryOut', label: 'Dry-out feed', choices: ['on', 'off'] },
  { key: 'span', label: 'Carriage span', choices: [...SPANS] },
  { key: 'cutOff', label: 'Cut off', choices: [...CUT_OFFS] },
  { key: 'unattended', label: 'With nobody there', choices: ['on', 'off'] },
] as const;

/** Those that are figures. What is kept = what is shown × scale. */
const RUN_FIGURES = [
  { key: 'dryMin', label: 'Drying time', unit: 'min', least: 0, most: 1440, scale: 1 },
  { key: 'heaterC', label: 'Heater', unit: '°C', least: 20, most: 200, scale: 1 },
  { key: 'inkLimit', label: 'Ink limit', unit: '%', least: 50, most: 800, scale: 0.01 },
] as const;

export type RunKey = (typeof RUN_SETTINGS)[number]['key'];

/** One choice as a ticket value. */
export function runValue(key: RunKey, text: string): TicketPartView {
  const value = key === 'dryOut' || key === 'unattended' ? text === 'on' : text;
  return { [key]: value };
}

/** A run setting in words; what a stock does not name is left open. */
export function runText(key: string, value: unknown): string {
  if (value === undefined || value === null) return 'left open';
  if (typeof value === 'boolean') return value ? 'on' : 'off';
  return typeof value === 'string' ? value : `${key} set`;
}

/** The run settings of a stock on one printer. */
export function RunSettings({
  name,
  part,
  onChange,
}: {
  readonly name: string;
  readonly part: TicketPartView;
  readonly onChange: (part: TicketPartView) => void;
}) {
  return (
    <>
      {RUN_SETTINGS.map(({ key, label, choices }) => (
        <Row key={key} label={label}>
          <Select
            label={`${label}, ${name}`}
            value={part[key] === undefined ? '' : runText(key, part[key])}
            choices={[{ value: '', text: 'left open' }, ...choices]}
            className=""
            onChange={(next) => {
              const rest = Object.fromEntries(Object.entries(part).filter(([each]) => each !== key));
              onChange(next === '' ? rest : { ...rest, ...runValue(key, next) });
            }}
          />
        </Row>
      ))}
      {RUN_FIGURES.map(({ key, label, unit, least, most, scale }) => (
        <Row key={key} label={label}>
          <OptionalNumber
            label={`${label}, ${name}`}
            value={part[key] == null ? null : Math.round((part[key] / scale) * 1000) / 1000}
            least={least}
            most={most}
            unit={unit}
            empty="left open"
            onChange={(figure) => {
              const rest = Object.fromEntries(Object.entries(part).filter(([each]) => each !== key));
              onChange(figure === null ? rest : { ...rest, [key]: figure * scale });
            }}
          />
        </Row>
      ))}
    </>
  );
}
