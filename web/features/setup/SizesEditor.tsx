import { Plus, X } from 'lucide-react';
import { useState } from 'react';
import type { ShopSizes } from '../../../contract/api/ticket.ts';
import { sendJson } from '../../api/client.ts';
import { useSizes } from '../../api/data.ts';
import { useNotice } from '../../app/notice.tsx';
import { MmField } from '../../ticket/fields.tsx';
import { NameField } from './NameField.tsx';

/** Sizes that the shop has names for; they stand beside ISO and ANSI wherever a ticket asks for a named size. */
export function SizesEditor() {
  const { data: sizes = [] } = useSizes();
  const { tell } = useNotice();
  const [adding, setAdding] = useState(false);
  const send = (next: ShopSizes): void => {
    sendJson('PUT', '/api/sizes', next).catch(tell);
  };
  const set = (index: number, change: Partial<ShopSizes[number]>): void => {
    send(sizes.map((size, i) => (i === index ? { ...size, ...change } : size)));
  };
  return (
    <div className="max-w-xl">
      <h2 className="text-lg font-semibold">Named sizes</h2>
      <p className="mt-1 mb-4 text-soft">
        A ticket can be fitted into a size by its name. ISO A and B and ANSI A to E are always there; these are the
        shop’s own. A change counts for tickets that take the size from now on: the others keep their millimetres.
      </p>
      {sizes.length === 0 && !adding && <p className="mb-2 text-soft">None of your own yet.</p>}
      <ul>
        {sizes.map((size, i) => (
          <li key={size.name} aria-label={size.name} className="flex items-center gap-3 border-b border-rule py-1">
            <span className="min-w-0 flex-1">
              <NameField
                label="Name of the size"
                heading={false}
                value={size.name}
                onChange={(name) => {
                  set(i, { name });
                }}
              />
            </span>
            <MmField
              label="Width of the size"
              value={size.widthMm}
              least={1}
              onChange={(mm) => {
                if (mm !== null) set(i, { widthMm: mm });
              }}
            />
            <span className="text-soft">×</span>
            <MmField
              label="Height of the size"
              value={size.heightMm}
              least={1}
              onChange={(mm) => {
                if (mm !== null) set(i, { heightMm: mm });
              }}
            />
            <SizeShape widthMm={size.widthMm} heightMm={size.heightMm} among={sizes} />
            <button
              type="button"
              className="rounded p-1 text-soft hover:bg-rule/60 hover:text-ink"
              aria-label={`Take ${size.name} off the list`}
              title="Take it off the list"
              onClick={() => {
                send(sizes.filter((_, other) => other !== i));
              }}
            >
              <X size={16} aria-hidden="true" />
            </button>
          </li>
        ))}
      </ul>
      {adding ? (
        <input
          autoFocus
          aria-label="Name of the new size"
          placeholder="a name, such as Tram panel"
          maxLength={60}
          onKeyDown={(event) => {
            if (event.key === 'Escape') setAdding(false);
            const name = event.currentTarget.value.trim();
            if (event.key !== 'Enter' || name === '') return;
            send([...sizes, { name, widthMm: 1000, heightMm: 1000 }]);
            setAdding(false);
          }}
          className="mt-2 h-8 w-72 rounded border border-rule bg-card px-2"
        />
      ) : (
        <button
          type="button"
          className="mt-2 inline-flex items-center gap-1 text-tide hover:underline"
          onClick={() => {
            setAdding(true);
          }}
        >
          <Plus size={15} aria-hidden="true" /> Add a size
        </button>
      )}
    </div>
  );
}

const BOX = 44;

/** All sizes of the list in one scale. */
function SizeShape({
  widthMm,
  heightMm,
  among,
}: {
  readonly widthMm: number;
  readonly heightMm: number;
  readonly among: ShopSizes;
}) {
  const largest = Math.max(...among.map((size) => Math.max(size.widthMm, size.heightMm)));
  const k = (BOX - 2) / largest;
  return (
    <svg width={BOX} height={BOX} aria-hidden="true" className="shrink-0">
      <rect
        x={1}
        y={BOX - 1 - Math.max(1, heightMm * k)}
        width={Math.max(1, widthMm * k)}
        height={Math.max(1, heightMm * k)}
        className="fill-card stroke-soft"
      />
    </svg>
  );
}
