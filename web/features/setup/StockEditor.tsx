import { useState } from 'react';
import type { StockChange } from '../../../contract/api/setup.ts';
import type { TicketPartView } from '../../../contract/api/ticket.ts';
import { acceptsForm } from '../../../core/stock/form.ts';
import { sendJson } from '../../api/client.ts';
import { type Printer, type Stock, usePrinters } from '../../api/data.ts';
import { useNotice } from '../../app/notice.tsx';
import { Button } from '../../ui/Button.tsx';
import { Row, Section } from '../../ui/Sheet.tsx';
import { NameField } from './NameField.tsx';
import { NumberField, TickField } from './PlainField.tsx';
import { RunSettings } from './RunSettings.tsx';

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
      <div className="flex items-start justify-between gap-4">
        <div className="min-w-0 flex-1">
          <NameField
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
          <Section title="What it is">
            <Row label="Comes as">{stock.form}</Row>
            <NumberField
              label="Width"
              value={stock.widthMm}
              unit="mm"
              least={1}
              onChange={(widthMm) => {
                change({ widthMm });
              }}
            />
            {stock.sheetMm !== null && (
              <NumberField
                label="Length of one"
                value={stock.sheetMm}
                unit="mm"
                least={1}
                onChange={(sheetMm) => {
                  change({ sheetMm });
                }}
              />
            )}
            <NumberField
              label="Thickness, liner included"
              value={stock.thicknessMm}
              unit="mm"
              least={0.01}
              most={50}
              onChange={(thicknessMm) => {
                change({ thicknessMm });
              }}
            />
            {stock.form === 'roll' && (
              <NumberField
                label="Core"
                value={stock.coreMm}
                unit="mm"
                onChange={(coreMm) => {
                  change({ coreMm });
                }}
              />
            )}
            <Row label="Colour">
              <input
                type="color"
                aria-label="Colour of the stock"
                defaultValue={stock.colour.toLowerCase()}
                onBlur={(event) => {
                  if (event.target.value !== stock.colour.toLowerCase()) change({ colour: event.target.value });
                }}
                className="h-8 w-14 rounded border border-rule bg-card"
              />
            </Row>
            <NumberField
              label="Price"
              value={stock.pricePerM2Minor / 100}
              unit="/m²"
              onChange={(price) => {
                change({ pricePerM2Minor: Math.round(price * 100) });
              }}
            />
          </Section>
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
      <TickField
        label="Every printer that takes its width, in any mode"
        value={suits === null}
        onChange={(any) => {
          onChange(any ? null : all);
        }}
      />
      {suits !== null &&
        printers.map((printer) => (
          <div key={printer.id} className="py-1">
            <p className="font-medium">{printer.name}</p>
            <div className="flex flex-wrap gap-x-4">
              {printer.config.modes.map((mode) => {
                const own = suits[printer.id] ?? [];
                return (
                  <label key={mode.id} className="inline-flex items-center gap-1.5">
                    <input
                      type="checkbox"
                      checked={own.includes(mode.id)}
                      onChange={(event) => {
                        const next = event.target.checked ? [...own, mode.id] : own.filter((id) => id !== mode.id);
                        onChange({ ...suits, [printer.id]: next });
                      }}
                      className="accent-tide"
                    />
                    {mode.name}
                  </label>
                );
              })}
            </div>
          </div>
        ))}
    </Section>
  );
}

function OnPrinter({ stock, printer }: { readonly stock: Stock; readonly printer: Printer }) {
  const { tell } = useNotice();
  const kept = stock.settings[printer.id] ?? {};
  const [own, setOwn] = useState<TicketPartView>();
  const part = own ?? kept;
  const change = (settings: TicketPartView): void => {
    setOwn(settings);
    sendJson('PUT', `/api/stocks/${stock.id}/settings`, { printerId: printer.id, settings })
      .catch(tell)
      .finally(() => {
        setOwn(undefined);
      });
  };
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
