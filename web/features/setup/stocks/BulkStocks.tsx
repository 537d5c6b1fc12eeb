import { useState } from 'react';
import type { StockSettingsChanges } from '../../../../contract/api/setup.ts';
import { sendJson } from '../../../api/client.ts';
import { usePrinters, useStocks } from '../../../api/data.ts';
import { useNotice } from '../../../app/notice.tsx';
import { Button } from '../../../ui/Button.tsx';
import { type Column, DataTable } from '../../../ui/DataTable.tsx';
import { Checkbox } from '../../../ui/fields/Checkbox.tsx';
import { Select } from '../../../ui/fields/Select.tsx';
import { SettingMonth } from './SettingMonth.tsx';
import { RUN_SETTINGS, type RunKey, runText, runValue } from './RunSettings.tsx';

function settingOf(key: RunKey): (typeof RUN_SETTINGS)[number] {
  return RUN_SETTINGS.find((each) => each.key === key) ?? RUN_SETTINGS[0];
}

const CHANGES: readonly Column<StockSettingsChanges['changes'][number]>[] = [
  { id: 'stock', title: 'Stock', sortBy: ({ stockName }) => stockName, cell: ({ stockName }) => stockName },
  { id: 'printer', title: 'Printer', sortBy: ({ printerName }) => printerName, cell: ({ printerName }) => printerName },
  { id: 'before', title: 'is now', className: 'text-soft', cell: ({ key, before }) => runText(key, before) },
  { id: 'after', title: 'becomes', className: 'font-medium', cell: ({ key, after }) => runText(key, after) },
];

/** One run setting for many stocks on many printers, with what would change before it does. */
export function BulkStocks() {
  const { data: stocks = [] } = useStocks();
  const { data: printers = [] } = usePrinters();
  const { tell, say } = useNotice();
  const [stockIds, setStockIds] = useState<ReadonlySet<string>>(new Set());
  const [printerIds, setPrinterIds] = useState<ReadonlySet<string>>(new Set());
  const [key, setKey] = useState<RunKey>('dryOut');
  const [value, setValue] = useState<string>('on');
  const [preview, setPreview] = useState<StockSettingsChanges>();
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
        Change one setting on many stocks at once. You see what will change before anything does.
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
          <Select
            label="Setting"
            value={key}
            choices={RUN_SETTINGS.map(({ key: each, label }) => ({ value: each, text: label }))}
            className="mb-2 w-full"
            onChange={(next) => {
              setKey(next);
              setValue(settingOf(next).choices[0]);
              setPreview(undefined);
            }}
          />
          <Select
            label="Becomes"
            value={value}
            choices={[...settingOf(key).choices, { value: '', text: 'left open' }]}
            className="mb-3 w-full"
            onChange={(next) => {
              setValue(next);
              setPreview(undefined);
            }}
          />
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
          {preview.changes.length > 0 && (
            <SettingMonth stockIds={[...stockIds]} printerIds={[...printerIds]} setting={key} value={value} />
          )}
          <DataTable
            label="What changes"
            columns={CHANGES}
            rows={preview.changes}
            rowId={({ stockId, printerId, key: changed }) => `${stockId}/${printerId}/${changed}`}
          />
          {preview.changes.length === 0 ? (
            <p className="text-soft">Nothing would change: all of them have this value already.</p>
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
        <Checkbox
          key={id}
          text={name}
          value={on.has(id)}
          className="flex! py-0.5"
          onChange={(chosen) => {
            onChange(id, chosen);
          }}
        />
      ))}
    </fieldset>
  );
}
