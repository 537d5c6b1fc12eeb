import { useRef, useState } from 'react';
import type { CoatPreview } from '../../../../contract/api/colour/preview.ts';
import { WipeLine, WipeSlider, beforeWipe } from '../../../draw/Wipe.tsx';

interface SplitPictureProps {
  readonly name: string;
  readonly before: CoatPreview | undefined;
  readonly after: CoatPreview | undefined;
}

/** Two prints of the same page over one another: left of the line before, right of it after. */
export function SplitPicture({ name, before, after }: SplitPictureProps) {
  const [share, setShare] = useState(50);
  const box = useRef<HTMLDivElement>(null);
  const follow = (clientX: number): void => {
    const place = box.current?.getBoundingClientRect();
    if (place) setShare(Math.min(100, Math.max(0, ((clientX - place.left) / place.width) * 100)));
  };
  const of = after ?? before;
  const ratio = of ? of.widthPx / of.heightPx : 1;
  return (
    <div className="flex min-h-0 flex-1 flex-col">
      <div className="[container-type:size] flex min-h-0 flex-1 items-center justify-center overflow-hidden bg-rule/40 p-4">
        {of && (
          <div
            ref={box}
            className="relative cursor-ew-resize touch-none outline outline-rule"
            style={{ aspectRatio: ratio, width: `min(100cqw, 100cqh * ${String(ratio)})` }}
            onPointerDown={(event) => {
              event.currentTarget.setPointerCapture(event.pointerId);
              follow(event.clientX);
            }}
            onPointerMove={(event) => {
              if (event.buttons === 1) follow(event.clientX);
            }}
          >
            {after && (
              <img
                src={`data:image/png;base64,${after.picture}`}
                alt={`${name}, after`}
                draggable={false}
                className="absolute inset-0 size-full"
              />
            )}
            {before && (
              <img
                src={`data:image/png;base64,${before.picture}`}
                alt={`${name}, before`}
                draggable={false}
                className="absolute inset-0 size-full"
                style={beforeWipe({ share })}
              />
            )}
            <WipeLine share={share} />
          </div>
        )}
      </div>
      <div className="grid grid-cols-[auto_1fr_auto] items-center gap-3 border-t border-rule px-4 py-2">
        <span>Before</span>
        <WipeSlider share={share} onChange={setShare} />
        <span>After</span>
      </div>
    </div>
  );
}
