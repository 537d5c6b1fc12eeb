import type { StockChange } from '../../../../contract/api/setup.ts';
import type { TicketPartView } from '../../../../contract/api/ticket.ts';
import { acceptsForm } from '../../../../core/stock/form.ts';
import { sendJson } from '../../../api/client.ts';
import { type Printer, type Stock, usePrinters, useShopSetup } from '../../../api/data.ts';
import { useNotice } from '../../../app/notice.tsx';
import { Button } from '../../../ui/Button.tsx';
import { Row, Section } from '../../../ui/Sheet.tsx';
import { Checkbox } from '../../../ui/fields/Checkbox.tsx';
import { LengthRow } from '../../../ui/fields/LengthRow.tsx';
import { TextInput } from '../../../ui/fields/TextInput.tsx';
import { NumberInput } from '../../../ui/fields/NumberInput.tsx';
import { NameInput } from '../../../ui/fields/NameInput.tsx';
import { formFields, useFormField } from '../../../ui/form/formFields.tsx';
import { SavedForm } from '../../../ui/form/SavedForm.tsx';
import { RunSettings } from './RunSettings.tsx';
import { useOwnPart } from '../useOwnPart.ts';

const Field = formFields<Stock>();
const NOTHING_SET: TicketPartView = {};

/** A stock: what it is, which printers and modes suit it, and its run settings on each, loaded or not. */
export function StockEditor({ stock, onOpen }: { readonly stock: Stock; readonly onOpen: (id: string) => void }) {
  const { tell } = useNotice();
  const { data: printers = [] } = usePrinters();
  const change = (part: StockChange): void => {
    sendJson('PATCH', `/api/stocks/${stock.id}`, part).catch(tell);
  };
  const copy = (): void => {
    sendJson<Stock>('POST', '/api/stocks', { name: `${stock.name} copy`, likeId: stock.id })
      .then((made) => {
        onOpen(made.id);
      })
      .catch(tell);
  };
  const takes = printers.filter(({ config }) => takesStock(config, stock));
  return (
    <div>
      <div className="flex items-start justify-between gap-4 max-phone:flex-col">
        <div className="min-w-0 flex-1">
          <NameInput
            label="Name of the stock"
            value={stock.name}
            onChange={(name) => {
              change({ name });
            }}
          />
        </div>
        <Button onClick={copy}>Copy</Button>
      </div>
      <div className="mt-3 grid gap-x-10 min-[1150px]:grid-cols-2">
        <div>
          <SavedForm
            value={stock}
            save={(next, changed) =>
              sendJson('PATCH', `/api/stocks/${stock.id}`, { [changed]: next[changed as keyof Stock] })
            }
            onRefused={tell}
          >
            <Section title="What it is">
              <Row label="Comes as">{stock.form}</Row>
              <Field.Length name="widthMm" label="Width" leastMm={1} />
              {stock.sheetMm !== null && <SheetLength />}
              <Field.Length name="thicknessMm" label="Thickness, liner included" leastMm={0.01} mostMm={50} />
              {stock.form === 'roll' && <Field.Length name="coreMm" label="Core" />}
              <Colour />
              <Field.Check name="clear" label="Clear: every ink shows on it" />
              <Field.Number name="pricePerM2Minor" per={100} label="Price" unit="/m²" />
            </Section>
            <Section title="Remainders and orders">
              <Field.Length name="usableMm" label="A remainder is usable from" />
              <Field.Number name="partDiscount" per={0.01} label="An opened one loses" unit="%" least={0} most={100} />
              <LeadDays />
              <Field.Number name="coverDays" label="Ordered for" unit="days" least={1} most={60} whole />
              <Field.Length name="leastMm" label="Always there" />
              <Field.OptionalLength name="packMm" label="Comes in packs of" empty="last one" leastMm={1} />
              {stock.form === 'roll' && <Field.Length name="leaderMm" label="Fed when it is loaded" />}
              <Codes />
            </Section>
          </SavedForm>
          <Suits
            stock={stock}
            printers={takes}
            onChange={(suits) => {
              change({ suits });
            }}
          />
        </div>
        <div>
          <p className="mb-2 text-soft">
            What this stock needs on a printer. It counts for jobs that arrive from now on; tickets that are here keep
            what they have.
          </p>
          {takes.map((printer) => (
            <OnPrinter key={printer.id} stock={stock} printer={printer} />
          ))}
        </div>
      </div>
    </div>
  );
}

/** What stands on its cartons: by these a delivery is known when it is scanned. */
function Codes() {
  const [codes, keep] = useFormField<readonly string[]>('codes');
  return (
    <Row label="Codes on its cartons">
      <TextInput
        label="Codes on its cartons"
        value={codes.join(', ')}
        most={400}
        placeholder="scanned when it comes"
        onChange={(text) => {
          keep(
            text
              .split(',')
              .map((code) => code.trim())
              .filter((code) => code !== ''),
          );
        }}
      />
    </Row>
  );
}

/** Open days from the order until it is there; as the shop orders ahead unless this stock has its own. */
function LeadDays() {
  const [days, keep] = useFormField<number | null>('leadDays');
  const { data: setup } = useShopSetup();
  const shopDays = setup?.orderAheadDays ?? 0;
  return (
    <>
      <Row label={`There as soon as the shop orders ahead (${String(shopDays)} days)`}>
        <Checkbox
          label="There as soon as the shop orders ahead"
          value={days === null}
          onChange={(on) => {
            keep(on ? null : shopDays);
          }}
        />
      </Row>
      {days !== null && (
        <Row label="There after">
          <NumberInput
            label="There after"
            value={days}
            onChange={keep}
            unit="days"
            least={0}
            most={60}
            whole
            className="w-24"
          />
        </Row>
      )}
    </>
  );
}

function SheetLength() {
  const [valueMm, keep] = useFormField<number>('sheetMm');
  return <LengthRow label="Length of one" valueMm={valueMm} leastMm={1} onChange={keep} />;
}

/** A colour is taken when the field is left: while somebody looks for one, each shade would be a change of its own. */
function Colour() {
  const [colour, keep] = useFormField<string>('colour');
  return (
    <Row label="Colour">
      <input
        key={colour}
        type="color"
        aria-label="Colour of the stock"
        defaultValue={colour.toLowerCase()}
        onBlur={(event) => {
          if (event.target.value !== colour.toLowerCase()) keep(event.target.value);
        }}
        className="h-8 w-14 rounded border border-rule bg-card"
      />
    </Row>
  );
}

function takesStock({ sources, widestMediaMm }: Printer['config'], { form, widthMm }: Stock): boolean {
  return acceptsForm(sources, form) && (form === 'garment' || widthMm <= widestMediaMm);
}

/** Modes by printer; as long as nothing is said, whatever takes its width suits. */
function Suits({
  stock,
  printers,
  onChange,
}: {
  readonly stock: Stock;
  readonly printers: readonly Printer[];
  readonly onChange: (suits: Record<string, string[]> | null) => void;
}) {
  const { suits } = stock;
  const all = Object.fromEntries(printers.map(({ id, config }) => [id, config.modes.map((mode) => mode.id)]));
  return (
    <Section title="Suits">
      <Row label="Every printer that takes its width, in any mode">
        <Checkbox
          label="Every printer that takes its width, in any mode"
          value={suits === null}
          onChange={(any) => {
            onChange(any ? null : all);
          }}
        />
      </Row>
      {suits !== null &&
        printers.map((printer) => (
          <div key={printer.id} className="py-1">
            <p className="font-medium">{printer.name}</p>
            <div className="flex flex-wrap gap-x-4">
              {printer.config.modes.map((mode) => {
                const own = suits[printer.id] ?? [];
                return (
                  <Checkbox
                    key={mode.id}
                    text={mode.name}
                    value={own.includes(mode.id)}
                    onChange={(on) => {
                      onChange({ ...suits, [printer.id]: on ? [...own, mode.id] : own.filter((id) => id !== mode.id) });
                    }}
                  />
                );
              })}
            </div>
          </div>
        ))}
    </Section>
  );
}

/** Run settings of the stock on one printer; they can be set long before it is loaded there. */
function OnPrinter({ stock, printer }: { readonly stock: Stock; readonly printer: Printer }) {
  const { tell } = useNotice();
  const [part, change] = useOwnPart(stock.settings[printer.id] ?? NOTHING_SET, async (settings) => {
    try {
      const changed = await sendJson<Stock>('PUT', `/api/stocks/${stock.id}/settings`, {
        printerId: printer.id,
        settings,
      });
      return changed.settings[printer.id] ?? NOTHING_SET;
    } catch (error) {
      tell(error);
      return undefined;
    }
  });
  const loaded = printer.spools.some((spool) => spool.stockId === stock.id);
  return (
    <Section
      title={`On ${printer.name}`}
      aside={<span className="text-soft">{loaded ? 'loaded now' : 'not loaded'}</span>}
    >
      <RunSettings name={`${stock.name} on ${printer.name}`} part={part} onChange={change} />
    </Section>
  );
}
