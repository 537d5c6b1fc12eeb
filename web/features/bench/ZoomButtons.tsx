import { Maximize, Minus, Plus } from 'lucide-react';
import type { ReactNode } from 'react';
import { Button } from '../../ui/Button.tsx';

const STEP = 1.4;

interface ZoomButtonsProps {
  readonly onZoom: (factor: number) => void;
  readonly onFit: () => void;
  /** Between farther and nearer, such as how near it is. */
  readonly children?: ReactNode;
}

/** How near a run is looked at. */
export function ZoomButtons({ onZoom, onFit, children }: ZoomButtonsProps) {
  return (
    <span className="flex items-center" role="group" aria-label="Zoom">
      <Button
        kind="quiet"
        onClick={() => {
          onZoom(1 / STEP);
        }}
        aria-label="Zoom out"
        title="−"
      >
        <Minus size={17} />
      </Button>
      {children}
      <Button
        kind="quiet"
        onClick={() => {
          onZoom(STEP);
        }}
        aria-label="Zoom in"
        title="+"
      >
        <Plus size={17} />
      </Button>
      <Button kind="quiet" onClick={onFit} aria-label="Fit the run" title="0">
        <Maximize size={16} />
      </Button>
    </span>
  );
}
