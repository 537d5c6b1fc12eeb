import { useState } from 'react';
import useSWR from 'swr';
import type { PurgeDesignBody, PurgeDesignView, PurgeFiguresView } from '../../../../contract/api/care.ts';
import { errorText, sendJson } from '../../../api/client.ts';
import { type Printer, type Stock, usePrinters, useStocks, useDesigns } from '../../../api/data.ts';
import { useNotice } from '../../../app/notice.tsx';
import { durationText } from '../../../../core/units/durationText.ts';
import { moneyText } from '../../../draw/money.ts';
import { Button } from '../../../ui/Button.tsx';
import { Checkbox } from '../../../ui/fields/Checkbox.tsx';
import { FieldError } from '../../../ui/fields/FieldError.tsx';
import { LengthInput } from '../../../ui/fields/LengthInput.tsx';
import { NumberInput } from '../../../ui/fields/NumberInput.tsx';
import { Select } from '../../../ui/fields/Select.tsx';
import { FIELD } from '../../../ui/fields/look.ts';
import { alongText } from '../../../ui/text/lengths.ts';
import { number } from '../../../ui/text/number.ts';
import { counted } from '../../../ui/text/counted.ts';
import { Row, Section, Sheet } from '../../../ui/Sheet.tsx';
import { CopyTo } from '../timers/CopyTo.tsx';
import { PurgePicture } from './PurgePicture.tsx';
import { startFor, stocksFor, withStock } from './purgeStart.ts';
import { WeekTable } from '../timers/WeekTable.tsx';
import { Changeable } from '../../../people/May.tsx';

/** Where a design begins: light every day, or heavy now and then. */
const STARTS = [
  { name: 'Light', density: 0.05 },
  { name: 'Medium', density: 0.15 },
  { name: 'Heavy', density: 0.4 },
] as const;

/** The purge designer: a new design, or one that is there. */
export function PurgeSheet({
  designId,
  onClose,
  onKept,
}: {
  readonly designId: string;
  readonly onClose: () => void;
  readonly onKept: (id: string) => void;
}) {
  const { data: designs } = useDesigns();
  const { data: printers } = usePrinters();
  const { data: stocks } = useStocks();
  const design = designs?.find(({ id }) => id === designId);
  if (!designs || !printers || !stocks || (designId !== 'new' && !design)) return null;
  const able = printers.filter((printer) => stocksFor(printer, stocks).length > 0);
  const first = able.find(({ config }) => config.channels.some(({ id }) => id === 'white')) ?? able[0];
  const start = design ?? (first && startFor(first, stocks));
  return (
    <Sheet title={design ? design.name : 'Design a purge'} onClose={onClose} wide>
      <Changeable right="coordinate" what="purges">
        {start ? (
          <Designer design={design} start={start} printers={able} stocks={stocks} onKept={onKept} onClose={onClose} />
        ) : (
          <p className="text-soft">
            No printer has media that a purge could be printed on. Add a stock that suits one under Setup.
          </p>
        )}
      </Changeable>
    </Sheet>
  );
}

function Designer({
  design,
  start,
  printers,
  stocks,
  onKept,
  onClose,
}: {
  readonly design: PurgeDesignView | undefined;
  readonly start: PurgeDesignBody;
  readonly printers: readonly Printer[];
  readonly stocks: readonly Stock[];
  readonly onKept: (id: string) => void;
  readonly onClose: () => void;
}) {
  const { printerId, name, sheet, modeId, stockId, onlyNeeded } = start;
  const [body, setBody] = useState<PurgeDesignBody>({ printerId, name, sheet, modeId, stockId, onlyNeeded });
  const [wrong, setWrong] = useState<string>();
  const { mutate } = useDesigns();
  const { tell } = useNotice();
  const { data: figures, error } = useSWR<PurgeFiguresView, Error>(
    ['/api/purges/figures', JSON.stringify(body)],
    () => sendJson('POST', '/api/purges/figures', body),
    { keepPreviousData: true },
  );
  const printer = printers.find(({ id }) => id === body.printerId);
  const set = (change: Partial<PurgeDesignBody>): void => {
    setBody((before) => ({ ...before, ...change }));
  };
  const setSheet = (change: Partial<PurgeDesignBody['sheet']>): void => {
    setBody((before) => ({ ...before, sheet: { ...before.sheet, ...change } }));
  };
  const keep = async (): Promise<PurgeDesignView | undefined> => {
    try {
      const kept = design
        ? await sendJson<PurgeDesignView>('PUT', `/api/purges/${design.id}`, body)
        : await sendJson<PurgeDesignView>('POST', '/api/purges', body);
      await mutate();
      setWrong(undefined);
      return kept;
    } catch (refused) {
      setWrong(errorText(refused));
      return undefined;
    }
  };
  const printNow = async (): Promise<void> => {
    const kept = await keep();
    if (!kept) return;
    await sendJson('POST', '/api/care', {
      printerId: kept.printerId,
      what: { kind: 'purge', designId: kept.id },
    }).catch(tell);
    onKept(kept.id);
  };
  if (!printer) return null;
  const { channels, modes } = printer.config;
  const own = stocksFor(printer, stocks);
  return (
    <>
      {figures && <PurgePicture design={body} figures={figures} printer={printer} />}
      {error && (
        <p role="alert" className="mb-2 text-stop">
          {errorText(error)}
        </p>
      )}
      {figures && (
        <Section title="What it takes">
          <Row label="Ink">
            {number(
              Object.values(figures.inkMl).reduce((sum, ml) => sum + ml, 0),
              3,
            )}{' '}
            ml
          </Row>
          <Row label="Media">{figures.sheets > 0 ? counted(figures.sheets, 'sheet') : alongText(figures.fedMm)}</Row>
          <Row label="Ink and media">{moneyText(figures.costMinor, figures.currency)}</Row>
          <Row label="Time">{durationText(figures.durationMs)}</Row>
        </Section>
      )}
      {figures && <WeekTable figures={figures} />}
      <Section title="Purge">
        <Row label="Name">
          <input
            aria-label="Name"
            maxLength={80}
            value={body.name}
            onChange={(event) => {
              set({ name: event.target.value });
            }}
            className={`${FIELD} w-52`}
          />
        </Row>
        <Row label="Printer">
          <Select
            label="Printer"
            value={body.printerId}
            disabled={design !== undefined}
            choices={printers.map((each) => ({ value: each.id, text: each.name }))}
            onChange={(id) => {
              const next = printers.find((each) => each.id === id);
              const fresh = next && startFor(next, stocks);
              if (fresh) setBody({ ...fresh, name: body.name });
            }}
          />
        </Row>
        <Row label="Stock">
          <Select
            label="Stock"
            value={body.stockId}
            choices={own.map((stock) => ({ value: stock.id, text: stock.name }))}
            onChange={(id) => {
              const stock = own.find((each) => each.id === id);
              if (stock) setBody(withStock(body, printer, stock));
            }}
          />
        </Row>
        <Row label="Print mode">
          <Select
            label="Print mode"
            value={body.modeId}
            choices={modes.map((mode) => ({
              value: mode.id,
              text: `${mode.name}, ${String(mode.dpiX)} × ${String(mode.dpiY)}`,
            }))}
            onChange={(id) => {
              set({ modeId: id });
            }}
          />
        </Row>
        {body.sheet.form === 'roll' && (
          <>
            <Row label="Width">
              <LengthInput
                label="Width"
                valueMm={body.sheet.widthMm}
                leastMm={1}
                mostMm={printer.config.printableWidthMm}
                onChange={(mm) => {
                  setSheet({ widthMm: mm ?? body.sheet.widthMm });
                }}
              />
            </Row>
            <Row label="Length">
              <LengthInput
                label="Length"
                valueMm={body.sheet.lengthMm}
                leastMm={1}
                mostMm={10_000}
                onChange={(mm) => {
                  setSheet({ lengthMm: mm ?? body.sheet.lengthMm });
                }}
              />
            </Row>
          </>
        )}
        <Row label="Density">
          <span className="inline-flex items-center gap-1">
            {STARTS.map((each) => (
              <button
                key={each.name}
                type="button"
                aria-pressed={body.sheet.density === each.density}
                onClick={() => {
                  setSheet({ density: each.density });
                }}
                className="rounded border border-rule px-1.5 aria-pressed:border-ink aria-pressed:bg-spool aria-pressed:text-on-spool"
              >
                {each.name}
              </button>
            ))}
            <NumberInput
              label="Density"
              value={Math.round(body.sheet.density * 1000) / 10}
              most={100}
              unit="%"
              className="w-14"
              onChange={(percent) => {
                setSheet({ density: percent / 100 });
              }}
            />
          </span>
        </Row>
        <Row label="Only channels that need it">
          <Checkbox
            label="Only channels that need it"
            value={body.onlyNeeded}
            onChange={(on) => {
              set({ onlyNeeded: on });
            }}
          />
        </Row>
      </Section>
      <Section title="Channels">
        {channels.map(({ id, name: channel, colour, heads }) => {
          const level = body.sheet.levels[id] ?? 0;
          return (
            <div key={id} className="flex items-center gap-2 py-0.5">
              <Checkbox
                label={`Fire ${channel}`}
                value={level > 0}
                onChange={(on) => {
                  setSheet({ levels: { ...body.sheet.levels, [id]: on ? 0.4 : 0 } });
                }}
              />
              <span
                aria-hidden="true"
                className="size-3.5 rounded-full border border-ink/40"
                style={{ background: colour }}
              />
              <span className="min-w-0 flex-1 truncate">
                {channel} <span className="dense text-soft">{counted(heads, 'head')}</span>
              </span>
              <NumberInput
                label={`Level of ${channel}`}
                value={Math.round(level * 100)}
                most={100}
                unit="%"
                className="w-14"
                onChange={(percent) => {
                  setSheet({ levels: { ...body.sheet.levels, [id]: percent / 100 } });
                }}
              />
              <span className="dense w-16 text-right text-soft">{number(figures?.inkMl[id] ?? 0, 3)} ml</span>
            </div>
          );
        })}
      </Section>
      <FieldError text={wrong} />
      <div className="flex gap-2">
        <Button
          kind="main"
          className="flex-1"
          disabled={body.name.trim() === ''}
          onClick={() => {
            void keep().then((kept) => {
              if (kept) onKept(kept.id);
            });
          }}
        >
          {design ? 'Keep the change' : 'Keep the design'}
        </Button>
        <Button
          onClick={() => {
            void printNow();
          }}
        >
          Print now
        </Button>
      </div>
      {design && (
        <p className="mt-3 mb-5 flex gap-4">
          <a className="text-tide underline" href={`/api/purges/${design.id}/purge.pdf`}>
            As PDF
          </a>
          <a className="text-tide underline" href={`/api/purges/${design.id}/channels.tif`}>
            Channel file (.tif)
          </a>
        </p>
      )}
      {design && <CopyTo design={design} printers={printers} onKept={onKept} onClose={onClose} />}
    </>
  );
}
