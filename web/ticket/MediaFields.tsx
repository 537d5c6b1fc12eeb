import { CUT_OFFS, SPANS } from '../../core/machine/constants.ts';
import { KeepField } from './FinishFields.tsx';
import type { Printer } from '../api/data.ts';
import { Section } from '../ui/Sheet.tsx';
import { TicketRow } from './TicketRow.tsx';
import type { FormProps } from './formPlace.ts';
import { Checkbox } from '../ui/fields/Checkbox.tsx';
import { NumberInput } from '../ui/fields/NumberInput.tsx';
import { OptionalNumber } from '../ui/fields/OptionalNumber.tsx';
import { Select } from '../ui/fields/Select.tsx';

function modeText(mode: Printer['config']['modes'][number]): string {
  const odd = mode.passes === mode.profilePasses ? '' : ' ⚠ profile differs';
  return `${mode.name}, ${mode.dpiX} × ${mode.dpiY}, ${mode.passes} passes${odd}`;
}

/** What it is printed on and how; a mode whose profile was made for other passes says so. */
export function MediaAndMode({ model, place }: FormProps) {
  const { values, change } = model;
  const { printer, stocks } = place;
  const mode = printer?.config.modes.find((each) => each.id === values.modeId);
  const fitting = stocks.filter((stock) => !printer || stock.widthMm <= printer.config.widestMediaMm);
  return (
    <Section title="Media and mode">
      <TicketRow label="Stock" name="stockId" model={model}>
        <Select
          label="Stock"
          value={model.mixed.has('stockId') ? undefined : (values.stockId ?? '')}
          choices={[
            ...(values.stockId === undefined && !model.mixed.has('stockId') ? [{ value: '', text: 'left open' }] : []),
            ...fitting.map((each) => ({ value: each.id, text: each.name })),
          ]}
          onChange={(stockId) => {
            if (stockId !== '') change({ stockId });
          }}
        />
      </TicketRow>
      <TicketRow label="Print mode" name="modeId" model={model}>
        <Select
          label="Print mode"
          value={model.mixed.has('modeId') ? undefined : (values.modeId ?? '')}
          choices={[
            ...(values.modeId === undefined && !model.mixed.has('modeId') ? [{ value: '', text: 'left open' }] : []),
            ...(printer?.config.modes ?? []).map((each) => ({ value: each.id, text: modeText(each) })),
          ]}
          onChange={(modeId) => {
            if (modeId !== '') change({ modeId });
          }}
        />
      </TicketRow>
      {mode && mode.passes !== mode.profilePasses && (
        <p className="text-stop">
          The profile {mode.profile} was made for {mode.profilePasses} passes; this mode prints {mode.passes}.
        </p>
      )}
      <TicketRow label="Carriage span" name="span" model={model}>
        <Select
          label="Carriage span"
          value={values.span}
          choices={SPANS}
          onChange={(span) => {
            change({ span });
          }}
        />
      </TicketRow>
      <TicketRow label="Edge to edge" name="edgeToEdge" model={model}>
        <Checkbox
          text="without margins"
          value={values.edgeToEdge}
          onChange={(edgeToEdge) => {
            change({ edgeToEdge });
          }}
        />
      </TicketRow>
    </Section>
  );
}

/** What happens at the end of its run and after it. */
export function Finish({ model }: FormProps) {
  const { values, change } = model;
  return (
    <Section title="Finish">
      <TicketRow label="Dry-out feed" name="dryOut" model={model}>
        <Checkbox
          text="on"
          value={values.dryOut}
          onChange={(dryOut) => {
            change({ dryOut });
          }}
        />
      </TicketRow>
      <TicketRow label="Drying time" name="dryMin" model={model}>
        <NumberInput
          label="Drying time"
          value={values.dryMin}
          most={1440}
          unit="min"
          onChange={(dryMin) => {
            change({ dryMin });
          }}
        />
      </TicketRow>
      <TicketRow label="Heater" name="heaterC" model={model}>
        <OptionalNumber
          label="Heater"
          value={values.heaterC}
          least={20}
          most={200}
          unit="°C"
          empty="as it stands"
          onChange={(heaterC) => {
            change({ heaterC });
          }}
        />
      </TicketRow>
      <TicketRow label="Cut off" name="cutOff" model={model}>
        <Select
          label="Cut off"
          value={values.cutOff}
          choices={CUT_OFFS}
          onChange={(cutOff) => {
            change({ cutOff });
          }}
        />
      </TicketRow>
      <TicketRow label="With nobody there" name="unattended" model={model}>
        <Checkbox
          text="may print"
          value={values.unattended}
          onChange={(unattended) => {
            change({ unattended });
          }}
        />
      </TicketRow>
      <TicketRow label="After printing" name="keep" model={model}>
        <KeepField
          value={values.keep}
          onChange={(keep) => {
            change({ keep });
          }}
        />
      </TicketRow>
    </Section>
  );
}
