import { X } from 'lucide-react';
import { useState } from 'react';
import type { ShopSizes } from '../../../contract/api/ticket.ts';
import { sendJson } from '../../api/client.ts';
import { useSizes } from '../../api/data.ts';
import { useNotice } from '../../app/notice.tsx';
import { NameInput } from '../../ui/fields/NameInput.tsx';
import { LengthInput } from '../../ui/fields/LengthInput.tsx';
import { AddButton } from '../../ui/AddButton.tsx';
import { NewName } from '../../ui/fields/NewName.tsx';
import { IconButton } from '../../ui/IconButton.tsx';

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
              <NameInput
                label="Name of the size"
                heading={false}
                value={size.name}
                onChange={(name) => {
                  set(i, { name });
                }}
              />
            </span>
            <LengthInput
              label="Width of the size"
              valueMm={size.widthMm}
              leastMm={1}
              onChange={(mm) => {
                if (mm !== null) set(i, { widthMm: mm });
              }}
            />
            <span className="text-soft">×</span>
            <LengthInput
              label="Height of the size"
              valueMm={size.heightMm}
              leastMm={1}
              onChange={(mm) => {
                if (mm !== null) set(i, { heightMm: mm });
              }}
            />
            <SizeShape widthMm={size.widthMm} heightMm={size.heightMm} among={sizes} />
            <IconButton
              label={`Take ${size.name} off the list`}
              onClick={() => {
                send(sizes.filter((_, other) => other !== i));
              }}
            >
              <X size={16} aria-hidden="true" />
            </IconButton>
          </li>
        ))}
      </ul>
      {adding ? (
        <div className="mt-2 max-w-96">
          <NewName
            label="Name of the new size"
            placeholder="a name, such as Tram panel"
            most={60}
            action="Add"
            onName={(name) => {
              send([...sizes, { name, widthMm: 1000, heightMm: 1000 }]);
              setAdding(false);
            }}
            onCancel={() => {
              setAdding(false);
            }}
          />
        </div>
      ) : (
        <AddButton
          onClick={() => {
            setAdding(true);
          }}
        >
          Add a size
        </AddButton>
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
