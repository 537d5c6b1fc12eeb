import { TimerSign } from '../../draw/TimerSign.tsx';
import {
  Clock,
  Disc3,
  Layers3,
  ListTree,
  Palette,
  Plus,
  Printer as PrinterSign,
  Route,
  Ruler,
  Users,
} from 'lucide-react';
import { useRef } from 'react';
import { useSearchParams } from 'react-router';
import type { PresetView, QueueView } from '../../../contract/api/ticket.ts';
import { sendJson } from '../../api/client.ts';
import { type Stock, usePeople, usePresets, usePrinters, useQueues, useSizes, useStocks } from '../../api/data.ts';
import { useNotice } from '../../app/notice.tsx';
import { useRoving } from '../../ui/useRoving.ts';
import { Changeable, May, useMay } from '../../people/May.tsx';
import { BulkStocks } from './stocks/BulkStocks.tsx';
import { HoursEditor } from './HoursEditor.tsx';
import { ImportPresets } from './ImportPresets.tsx';
import { AddEntry, Entry, Heading } from './listEntries.tsx';
import { MessagesEditor } from './messages/MessagesEditor.tsx';
import { NewPrinter } from './NewPrinter.tsx';
import { PeopleEditor } from './PeopleEditor.tsx';
import { PersonEditor } from './PersonEditor.tsx';
import { ProfilesEditor } from './ProfilesEditor.tsx';
import { PresetEditor } from './PresetEditor.tsx';
import { PrinterEditor } from './PrinterEditor.tsx';
import { QueueEditor } from './QueueEditor.tsx';
import { RulesEditor } from './RulesEditor.tsx';
import { StockEditor } from './stocks/StockEditor.tsx';
import { SizesEditor } from './SizesEditor.tsx';

/** Everything that is set up once: printers, stocks, queues with their hot folders, presets, routing, hours and sizes. */
export function SetupPage() {
  const [params, setParams] = useSearchParams();
  const { data: queues = [] } = useQueues();
  const { data: presets = [] } = usePresets();
  const { data: own = [] } = useSizes();
  const { tell } = useNotice();
  const { data: printers = [] } = usePrinters();
  const { data: stocks = [] } = useStocks();
  const preset = presets.find((each) => each.id === params.get('preset'));
  const printer = printers.find((each) => each.id === params.get('printer'));
  const stock = stocks.find((each) => each.id === params.get('stock'));
  const owner = useMay('set up');
  const { data: people = [] } = usePeople(owner);
  const person = people.find((each) => each.id === params.get('person'));
  const place = PLACES.find((each) => params.has(each) && (owner || !OWNERS.includes(each)));
  const elsewhere = preset ?? printer ?? stock ?? person ?? place;
  const queue = queues.find((each) => each.id === params.get('queue')) ?? (elsewhere ? undefined : queues[0]);
  const go = (to: Record<string, string>): void => {
    setParams(to, { replace: true });
  };
  const make = (): void => {
    const taken = new Set(presets.map((each) => each.name));
    const name = ['New preset', ...Array.from({ length: 99 }, (_, i) => `New preset ${String(i + 2)}`)].find(
      (each) => !taken.has(each),
    );
    sendJson<PresetView>('POST', '/api/presets', { name, settings: {} })
      .then((made) => {
        go({ preset: made.id });
      })
      .catch(tell);
  };
  const list = useRef<HTMLElement>(null);
  const onKeyDown = useRoving(list);
  return (
    <div className="flex h-full min-h-0 max-phone:flex-col">
      <nav
        ref={list}
        onKeyDown={onKeyDown}
        aria-label="What is set up"
        className="w-60 shrink-0 overflow-y-auto border-r border-rule px-3 py-3 max-phone:max-h-[40%] max-phone:w-full max-phone:border-r-0 max-phone:border-b"
      >
        <h1 className="mb-3 px-2 text-lg font-semibold">Setup</h1>
        <Heading icon={<PrinterSign size={16} aria-hidden="true" />}>Printers</Heading>
        {printers.map((each) => (
          <Entry
            key={each.id}
            on={each.id === printer?.id}
            onClick={() => {
              go({ printer: each.id });
            }}
            more={each.config.form}
          >
            {each.name}
            <TimerSign printer={each} />
          </Entry>
        ))}
        {owner && (
          <AddEntry
            on={place === 'new-printer'}
            onClick={() => {
              go({ 'new-printer': '' });
            }}
          >
            A new printer
          </AddEntry>
        )}
        <Heading icon={<ListTree size={16} aria-hidden="true" />}>Queues</Heading>
        {queues.map((each) => (
          <Entry
            key={each.id}
            on={each.id === queue?.id}
            onClick={() => {
              go({ queue: each.id });
            }}
            more={folderText(each)}
          >
            {each.name}
          </Entry>
        ))}
        <Heading icon={<Layers3 size={16} aria-hidden="true" />}>Presets</Heading>
        {presets.map((each) => (
          <Entry
            key={each.id}
            on={each.id === preset?.id}
            onClick={() => {
              go({ preset: each.id });
            }}
            more={usedText(each)}
          >
            {each.name}
          </Entry>
        ))}
        <div className="mt-1 flex flex-wrap gap-1 px-1">
          <May right="coordinate">
            <button
              type="button"
              className="inline-flex items-center gap-1 rounded px-1 py-1 text-tide hover:bg-rule/50"
              onClick={make}
            >
              <Plus size={15} aria-hidden="true" /> New
            </button>
            <ImportPresets />
          </May>
          <a
            href="/api/presets/export"
            className="inline-flex items-center rounded px-1 py-1 text-tide hover:bg-rule/50"
          >
            Export all
          </a>
        </div>
        <Heading icon={<Disc3 size={16} aria-hidden="true" />}>Stocks</Heading>
        {owner && (
          <Entry
            on={place === 'many-stocks'}
            onClick={() => {
              go({ 'many-stocks': '' });
            }}
            more="one setting, every stock that needs it"
          >
            Many stocks at once
          </Entry>
        )}
        {stocks.map((each) => (
          <Entry
            key={each.id}
            on={each.id === stock?.id}
            onClick={() => {
              go({ stock: each.id });
            }}
            more={stockText(each)}
          >
            {each.name}
          </Entry>
        ))}
        <Heading icon={<Route size={16} aria-hidden="true" />}>Routing</Heading>
        <Entry
          on={place === 'rules'}
          onClick={() => {
            go({ rules: '' });
          }}
          more="which printer takes which jobs"
        >
          Rules
        </Entry>
        {owner && (
          <>
            <Heading icon={<Users size={16} aria-hidden="true" />}>People</Heading>
            <Entry
              on={place === 'people'}
              onClick={() => {
                go({ people: '' });
              }}
              more="roles, sign-in"
            >
              Everybody, and sign-in
            </Entry>
            {people.map((each) => (
              <Entry
                key={each.id}
                on={each.id === person?.id}
                onClick={() => {
                  go({ person: each.id });
                }}
                more={each.role}
              >
                {each.name}
              </Entry>
            ))}
            <Entry
              on={place === 'messages'}
              onClick={() => {
                go({ messages: '' });
              }}
              more="who is told when it goes wrong"
            >
              Messages
            </Entry>
          </>
        )}
        <Heading icon={<Clock size={16} aria-hidden="true" />}>Shop</Heading>
        <Entry
          on={place === 'hours'}
          onClick={() => {
            go({ hours: '' });
          }}
          more="hours, holidays, limits"
        >
          Shop hours
        </Entry>
        <Heading icon={<Palette size={16} aria-hidden="true" />}>Colour</Heading>
        <Entry
          on={place === 'profiles'}
          onClick={() => {
            go({ profiles: '' });
          }}
          more="what colours become, by mode"
        >
          Profiles
        </Entry>
        <Heading icon={<Ruler size={16} aria-hidden="true" />}>Sizes</Heading>
        <Entry
          on={place === 'sizes'}
          onClick={() => {
            go({ sizes: '' });
          }}
          more={own.length === 0 ? 'ISO and ANSI' : `ISO, ANSI and ${String(own.length)} of your own`}
        >
          Named sizes
        </Entry>
      </nav>
      <div className="min-h-0 min-w-0 flex-1 overflow-y-auto px-6 py-4">
        <Changeable right={preset ? 'coordinate' : 'set up'} what={preset ? 'presets' : 'what is set up'}>
          {place ? (
            <Place
              place={place}
              onPerson={(id) => {
                go({ person: id });
              }}
              onPrinter={(id) => {
                go({ printer: id });
              }}
            />
          ) : person ? (
            <PersonEditor
              key={person.id}
              person={person}
              onGone={() => {
                go({ people: '' });
              }}
            />
          ) : printer ? (
            <PrinterEditor
              key={printer.id}
              printer={printer}
              onOpen={(id) => {
                go(id === null ? {} : { printer: id });
              }}
            />
          ) : stock ? (
            <StockEditor
              key={stock.id}
              stock={stock}
              onOpen={(id) => {
                go({ stock: id });
              }}
            />
          ) : preset ? (
            <PresetEditor
              key={preset.id}
              preset={preset}
              onOpen={(id) => {
                go(id === null ? {} : { preset: id });
              }}
            />
          ) : queue ? (
            <QueueEditor
              key={queue.id}
              queue={queue}
              onOpen={(id) => {
                go({ queue: id });
              }}
            />
          ) : (
            <p className="text-soft">Reading…</p>
          )}
        </Changeable>
      </div>
    </div>
  );
}

/** Parts of the setup that are one of a kind. */
const PLACES = ['sizes', 'profiles', 'rules', 'hours', 'people', 'messages', 'new-printer', 'many-stocks'] as const;
/** Parts that only those who set the shop up can see. */
const OWNERS: readonly string[] = ['people', 'messages'];

function Place({
  place,
  onPrinter,
  onPerson,
}: {
  readonly place: (typeof PLACES)[number];
  readonly onPrinter: (id: string) => void;
  readonly onPerson: (id: string) => void;
}) {
  switch (place) {
    case 'sizes':
      return <SizesEditor />;
    case 'profiles':
      return <ProfilesEditor />;
    case 'rules':
      return <RulesEditor />;
    case 'hours':
      return <HoursEditor />;
    case 'people':
      return <PeopleEditor onPerson={onPerson} />;
    case 'messages':
      return <MessagesEditor />;
    case 'new-printer':
      return <NewPrinter onOpen={onPrinter} />;
    case 'many-stocks':
      return <BulkStocks />;
  }
}

function stockText({ settings, pricePerM2Minor }: Stock): string {
  const own = Object.values(settings).filter((part) => Object.keys(part).length > 0).length;
  const price = `${(pricePerM2Minor / 100).toFixed(2)} a m²`;
  return own === 0 ? price : `${price}, set on ${String(own)} ${own === 1 ? 'printer' : 'printers'}`;
}

function folderText(queue: QueueView): string {
  const n = queue.hotFolders.length;
  return n === 0 ? 'no hot folder' : n === 1 ? '1 hot folder' : `${String(n)} hot folders`;
}

function usedText({ usedBy }: PresetView): string {
  const jobs = usedBy.jobs === 0 ? '' : `${String(usedBy.jobs)} ${usedBy.jobs === 1 ? 'job' : 'jobs'}`;
  const folders = usedBy.hotFolders === 0 ? '' : `${String(usedBy.hotFolders)} hot folders`;
  return [jobs, folders].filter(Boolean).join(', ') || 'not in use';
}
