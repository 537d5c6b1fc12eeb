import { useState } from 'react';
import type { StockSettingsChanges } from '../../../contract/api/setup.ts';
import { sendJson } from '../../api/client.ts';
import { usePrinters, useStocks } from '../../api/data.ts';
import { useNotice } from '../../app/notice.tsx';
import { Button } from '../../ui/Button.tsx';
import { RUN_SETTINGS, runText, runValue } from './RunSettings.tsx';

/** One run setting for many stocks on many printers, with what would change before it does. */
export function BulkStocks() {
  const { data: stocks = [] } = useStocks();
  const { data: printers = [] } = usePrinters();
  const { tell, say } = useNotice();
  const [stockIds, setStockIds] = useState<ReadonlySet<string>>(new Set());
  const [printerIds, setPrinterIds] = useState<ReadonlySet<string>>(new Set());
  const [key, setKey] = useState<(typeof RUN_SETTINGS)[number]['key']>('dryOut');
  const [value, setValue] = useState('on');
  const [preview, setPreview] = useState<StockSettingsChanges>();
  const setting = RUN_SETTINGS.find((each) => each.key === key) ?? RUN_SETTINGS[0];
  const send = (asPreview: boolean): void => {
    sendJson<StockSettingsChanges>('POST', '/api/stocks/settings', {
      stockIds: [...stockIds],
      printerIds: [...printerIds],
      set: value === '' ? {} : runValue(key, value),
      clear: value === '' ? [key] : [],
      preview: asPreview,
    })
      .then((answer) => {
        setPreview(asPreview ? answer : undefined);
        if (!asPreview) say(`${String(answer.changes.length)} run settings changed`);
      })
      .catch(tell);
  };
  const choose = (set: ReadonlySet<string>, id: string, on: boolean): Set<string> => {
    const next = new Set(set);
    if (on) next.add(id);
    else next.delete(id);
    return next;
  };
  const ready = stockIds.size > 0 && printerIds.size > 0;
  return (
    <div className="max-w-3xl">
      <h2 className="text-lg font-semibold">Many stocks at once</h2>
      <p className="mt-1 mb-3 text-soft">
        So that a setting is not forgotten on the other stocks. Nothing changes before you have seen what will.
      </p>
      <div className="grid grid-cols-[minmax(0,1fr)_110px_190px] gap-5">
        <Ticks
          title="Stocks"
          items={stocks}
          on={stockIds}
          onAll={(all) => {
            setStockIds(new Set(all ? stocks.map(({ id }) => id) : []));
            setPreview(undefined);
          }}
          onChange={(id, on) => {
            setStockIds(choose(stockIds, id, on));
            setPreview(undefined);
          }}
        />
        <Ticks
          title="On printers"
          items={printers}
          on={printerIds}
          onAll={(all) => {
            setPrinterIds(new Set(all ? printers.map(({ id }) => id) : []));
            setPreview(undefined);
          }}
          onChange={(id, on) => {
            setPrinterIds(choose(printerIds, id, on));
            setPreview(undefined);
          }}
        />
        <div>
          <p className="mb-1 font-semibold">Setting</p>
          <select
            aria-label="Setting"
            value={key}
            onChange={(event) => {
              const next = RUN_SETTINGS.find((each) => each.key === event.target.value);
              if (!next) return;
              setKey(next.key);
              setValue(next.choices[0]);
              setPreview(undefined);
            }}
            className="mb-2 h-8 w-full rounded border border-rule bg-card px-1"
          >
            {RUN_SETTINGS.map(({ key: each, label }) => (
              <option key={each} value={each}>
                {label}
              </option>
            ))}
          </select>
          <select
            aria-label="Becomes"
            value={value}
            onChange={(event) => {
              setValue(event.target.value);
              setPreview(undefined);
            }}
            className="mb-3 h-8 w-full rounded border border-rule bg-card px-1"
          >
            {setting.choices.map((choice) => (
              <option key={choice}>{choice}</option>
            ))}
            <option value="">left open</option>
          </select>
          <Button
            className="w-full"
            disabled={!ready}
            onClick={() => {
              send(true);
            }}
          >
            Show what changes
          </Button>
        </div>
      </div>
      {preview && (
        <div className="mt-4">
          <table className="w-full" aria-label="What changes">
            <thead>
              <tr className="text-left text-soft">
                <th className="font-normal">Stock</th>
                <th className="font-normal">Printer</th>
                <th className="font-normal">is now</th>
                <th className="font-normal">becomes</th>
              </tr>
            </thead>
            <tbody>
              {preview.changes.map((change) => (
                <tr key={`${change.stockId}/${change.printerId}/${change.key}`} className="border-t border-rule">
                  <td className="py-1">{change.stockName}</td>
                  <td>{change.printerName}</td>
                  <td className="text-soft">{runText(change.key, change.before)}</td>
                  <td className="font-medium">{runText(change.key, change.after)}</td>
                </tr>
              ))}
            </tbody>
          </table>
          {preview.changes.length === 0 ? (
            <p className="text-soft">Nothing would change: it is so everywhere.</p>
          ) : (
            <Button
              kind="main"
              className="mt-3"
              onClick={() => {
                send(false);
              }}
            >
              Change these {preview.changes.length}
            </Button>
          )}
        </div>
      )}
    </div>
  );
}

function Ticks({
  title,
  items,
  on,
  onAll,
  onChange,
}: {
  readonly title: string;
  readonly items: readonly { readonly id: string; readonly name: string }[];
  readonly on: ReadonlySet<string>;
  readonly onAll: (all: boolean) => void;
  readonly onChange: (id: string, on: boolean) => void;
}) {
  return (
    <fieldset>
      <legend className="mb-1 flex w-full items-baseline justify-between font-semibold">
        {title}
        <button
          type="button"
          className="font-normal text-tide"
          onClick={() => {
            onAll(on.size < items.length);
          }}
        >
          {on.size < items.length ? 'all' : 'none'}
        </button>
      </legend>
      {items.map(({ id, name }) => (
        <label key={id} className="flex items-center gap-2 py-0.5">
          <input
            type="checkbox"
            checked={on.has(id)}
            onChange={(event) => {
              onChange(id, event.target.checked);
            }}
            className="accent-tide"
          />
          {name}
        </label>
      ))}
    </fieldset>
  );
}
