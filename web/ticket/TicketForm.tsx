import { MoneyInput } from '../ui/fields/MoneyInput.tsx';

import { PRIORITIES } from '../../core/ticket/ticket.ts';
import { Section } from '../ui/Sheet.tsx';
import { Colour } from './ColourFields.tsx';
import { ChargesField } from './ChargesField.tsx';
import { TicketRow } from './TicketRow.tsx';
import { SizeFields } from './SizeFields.tsx';
import type { FormProps } from './formPlace.ts';
import { TurnRows, PlaceRows, Copies } from './LayFields.tsx';
import { MediaAndMode, Finish } from './MediaFields.tsx';
import { DateTimeInput } from '../ui/fields/DateTimeInput.tsx';
import { Checkbox } from '../ui/fields/Checkbox.tsx';
import { Select } from '../ui/fields/Select.tsx';
import { TextInput } from '../ui/fields/TextInput.tsx';

/** All settings of a ticket, section by section; each row says where its value comes from. */
export function TicketForm({ model, place }: FormProps) {
  return (
    <>
      <Section title="Size">
        <SizeFields model={model} />
        <TurnRows model={model} place={place} />
        <PlaceRows model={model} place={place} />
      </Section>
      <Copies model={model} place={place} />
      <MediaAndMode model={model} place={place} />
      <Colour model={model} place={place} />
      <Finish model={model} place={place} />
      <Order model={model} place={place} />
    </>
  );
}

/**
 * For whom, by which number, how many, until when. With many jobs chosen a field in which they differ says so, and is left alone
 * until it is changed.
 */
function Order({ model, place }: FormProps) {
  const { values, change, mixed } = model;
  const text = (key: 'customer' | 'orderNo' | 'notes', label: string, name: string, most = 200) => (
    <TicketRow label={label} name={key} model={model}>
      <TextInput
        label={name}
        value={values[key] ?? ''}
        placeholder={mixed.has(key) ? 'mixed' : ''}
        most={most}
        onChange={(value) => {
          change({ [key]: value === '' ? null : value });
        }}
      />
    </TicketRow>
  );
  return (
    <Section title="Order">
      {text('customer', 'Customer', 'Customer')}
      {text('orderNo', 'Order', 'Order', 100)}
      <TicketRow label="Lot" name="oneLot" model={model}>
        <Checkbox
          text="all of the order from one"
          value={values.oneLot}
          onChange={(oneLot) => {
            change({ oneLot });
          }}
        />
      </TicketRow>
      <TicketRow label="Due" name="dueMs" model={model}>
        <DateTimeInput
          label="Due"
          valueMs={values.dueMs ?? null}
          zone={place.zone}
          onChange={(dueMs) => {
            change({ dueMs });
          }}
        />
      </TicketRow>
      <TicketRow label="Priority" name="priority" model={model}>
        <Select
          label="Priority"
          value={values.priority}
          choices={PRIORITIES}
          onChange={(priority) => {
            change({ priority });
          }}
        />
      </TicketRow>
      <TicketRow label="An hour late costs" name="latePerHMinor" model={model}>
        <MoneyInput
          label="An hour late costs"
          minor={values.latePerHMinor}
          onChange={(latePerHMinor) => {
            change({ latePerHMinor });
          }}
        />
      </TicketRow>
      {text('notes', 'Notes', 'Notes', 2000)}
      <TicketRow label="Extra charges" name="charges" model={model}>
        <ChargesField
          charges={values.charges ?? []}
          onChange={(charges) => {
            change({ charges });
          }}
        />
      </TicketRow>
    </Section>
  );
}
