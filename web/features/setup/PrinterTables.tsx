import { OctagonAlert, Plus, X } from 'lucide-react';
import type { PrinterConfig } from '../../../contract/api/floor.ts';
import { modeTrouble } from '../../../core/machine/constants.ts';
import { Section } from '../../ui/Sheet.tsx';
import { NumberField, WordField } from './PlainField.tsx';

interface TableProps {
  readonly config: PrinterConfig;
  readonly onChange: (part: Partial<PrinterConfig>) => void;
}

type Mode = PrinterConfig['modes'][number];
type Channel = PrinterConfig['channels'][number];

const HEAD = 'pb-1 pr-2 text-left font-normal text-soft';
const CELL = 'py-0.5 pr-2 align-top';

/** Print modes; one whose passes differ from those of its profile says so, since it ruins prints. */
export function ModeTable({ config, onChange }: TableProps) {
  const set = (index: number, part: Partial<Mode>): void => {
    onChange({ modes: config.modes.map((mode, i) => (i === index ? { ...mode, ...part } : mode)) });
  };
  const add = (): void => {
    const like = config.modes.at(-1);
    if (!like) return;
    const id = `mode-${String(config.modes.length + 1)}-${String(Math.round(performance.now()))}`;
    onChange({ modes: [...config.modes, { ...like, id, name: `${like.name} copy` }] });
  };
  const wide = config.head === 'page-wide';
  return (
    <Section title="Print modes" aside={<AddButton onClick={add}>A mode like the last</AddButton>}>
      <div className="overflow-x-auto">
        <table>
          <thead>
            <tr>
              {[
                'Name',
                'dpi across',
                'along',
                'Passes',
                'One way',
                'White one way',
                'Drop pl',
                'Ink limit %',
                'ICC profile',
                'made for',
                ...(wide ? ['mm/s'] : []),
                '',
              ].map((each) => (
                <th key={each} className={HEAD}>
                  {each}
                </th>
              ))}
            </tr>
          </thead>
          <tbody>
            {config.modes.map((mode, i) => {
              const trouble = modeTrouble(mode, config.machine.nozzlesPerInch);
              const figure = (label: string, value: number, take: (value: number) => Partial<Mode>, whole = false) => (
                <NumberField
                  label={`${label}, ${mode.name}`}
                  value={value}
                  unit=""
                  narrow
                  whole={whole}
                  least={whole ? 1 : 0.1}
                  onChange={(next) => {
                    set(i, take(next));
                  }}
                />
              );
              const tick = (label: string, value: boolean, take: (value: boolean) => Partial<Mode>) => (
                <input
                  type="checkbox"
                  aria-label={`${label}, ${mode.name}`}
                  checked={value}
                  onChange={(event) => {
                    set(i, take(event.target.checked));
                  }}
                  className="mt-2 size-4 accent-tide"
                />
              );
              return (
                <tr key={mode.id}>
                  <td className={CELL}>
                    <WordField
                      label={`Name of mode ${String(i + 1)}`}
                      value={mode.name}
                      onChange={(name) => {
                        set(i, { name });
                      }}
                    />
                  </td>
                  <td className={CELL}>{figure('dpi across', mode.dpiX, (dpiX) => ({ dpiX }))}</td>
                  <td className={CELL}>{figure('dpi along', mode.dpiY, (dpiY) => ({ dpiY }))}</td>
                  <td className={CELL}>{figure('Passes', mode.passes, (passes) => ({ passes }), true)}</td>
                  <td className={CELL}>
                    {tick('One way', mode.oneDirectional, (oneDirectional) => ({ oneDirectional }))}
                  </td>
                  <td className={CELL}>
                    {tick('White one way', mode.whiteOneDirectional, (whiteOneDirectional) => ({
                      whiteOneDirectional,
                    }))}
                  </td>
                  <td className={CELL}>{figure('Drop', mode.dropPl, (dropPl) => ({ dropPl }))}</td>
                  <td className={CELL}>
                    {figure('Ink limit', Math.round(mode.inkLimit * 100), (limit) => ({ inkLimit: limit / 100 }), true)}
                  </td>
                  <td className={CELL}>
                    <WordField
                      label={`Profile of ${mode.name}`}
                      value={mode.profile}
                      most={120}
                      onChange={(profile) => {
                        set(i, { profile });
                      }}
                    />
                    {trouble !== null && (
                      <p role="alert" className="mt-0.5 flex max-w-64 gap-1 text-stop">
                        <OctagonAlert size={15} className="mt-0.5 shrink-0" aria-hidden="true" /> {trouble}
                      </p>
                    )}
                  </td>
                  <td className={CELL}>
                    {figure('Profile passes', mode.profilePasses, (profilePasses) => ({ profilePasses }), true)}
                  </td>
                  {wide && (
                    <td className={CELL}>
                      {figure('Line speed', mode.lineMmPerS ?? 100, (lineMmPerS) => ({ lineMmPerS }))}
                    </td>
                  )}
                  <td className={CELL}>
                    <button
                      type="button"
                      aria-label={`Remove mode ${mode.name}`}
                      disabled={config.modes.length < 2}
                      onClick={() => {
                        onChange({ modes: config.modes.filter((_, at) => at !== i) });
                      }}
                      className="mt-1.5 rounded p-1 text-soft hover:bg-rule/50 hover:text-ink disabled:opacity-30"
                    >
                      <X size={15} />
                    </button>
                  </td>
                </tr>
              );
            })}
          </tbody>
        </table>
      </div>
    </Section>
  );
}

/** Ink channels in the order of the heads. */
export function ChannelTable({ config, onChange }: TableProps) {
  const set = (index: number, part: Partial<Channel>): void => {
    onChange({ channels: config.channels.map((channel, i) => (i === index ? { ...channel, ...part } : channel)) });
  };
  return (
    <Section title="Ink channels, in order">
      <table>
        <thead>
          <tr>
            {['', 'Channel', 'Heads', 'Tank ml', 'Price a ml', 'Idle limit h'].map((each) => (
              <th key={each} className={HEAD}>
                {each}
              </th>
            ))}
          </tr>
        </thead>
        <tbody>
          {config.channels.map((channel, i) => {
            const figure = (label: string, value: number, take: (value: number) => Partial<Channel>, whole = false) => (
              <NumberField
                label={`${label}, ${channel.name}`}
                value={value}
                unit=""
                narrow
                whole={whole}
                least={whole ? 1 : 0}
                onChange={(next) => {
                  set(i, take(next));
                }}
              />
            );
            return (
              <tr key={channel.id}>
                <td className={CELL}>
                  <span
                    className="mt-1.5 block size-5 rounded border border-soft"
                    style={{ background: channel.colour }}
                  />
                </td>
                <td className={`${CELL} pt-1.5`}>{channel.name}</td>
                <td className={CELL}>{figure('Heads', channel.heads, (heads) => ({ heads }), true)}</td>
                <td className={CELL}>{figure('Tank', channel.tankMl, (tankMl) => ({ tankMl }), true)}</td>
                <td className={CELL}>
                  {figure('Price', channel.pricePerMlMicro / 1e6, (price) => ({
                    pricePerMlMicro: Math.round(price * 1e6),
                  }))}
                </td>
                <td className={CELL}>
                  {figure('Idle limit', channel.idleLimitH, (idleLimitH) => ({ idleLimitH }), true)}
                </td>
              </tr>
            );
          })}
        </tbody>
      </table>
    </Section>
  );
}

function AddButton({ onClick, children }: { readonly onClick: () => void; readonly children: React.ReactNode }) {
  return (
    <button
      type="button"
      onClick={onClick}
      className="inline-flex items-center gap-1 rounded px-1 text-tide hover:bg-rule/50"
    >
      <Plus size={15} aria-hidden="true" /> {children}
    </button>
  );
}
