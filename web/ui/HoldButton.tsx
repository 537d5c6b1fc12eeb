import { useEffect, useRef, useState } from 'react';

/** So long it has to be held (ms). */
const HOLD_MS = 1000;
/** A helper that only clicks presses once more within this time (ms). */
const TWICE_MS = 6000;

/**
 * A button for what ruins work: it does so only when it is held, by pointer, finger or key. What can only click (a screen reader,
 * a voice) is asked to press once more.
 */
export function HoldButton({
  text,
  className = '',
  onHeld,
}: {
  readonly text: string;
  readonly className?: string;
  readonly onHeld: () => void;
}) {
  const [holding, setHolding] = useState(false);
  const [asked, setAsked] = useState(false);
  const timer = useRef<ReturnType<typeof setTimeout>>(undefined);
  /** A click that follows a press was meant as a press. */
  const pressed = useRef(false);
  useEffect(() => {
    if (!asked) return undefined;
    const forget = setTimeout(() => {
      setAsked(false);
    }, TWICE_MS);
    return () => {
      clearTimeout(forget);
    };
  }, [asked]);
  useEffect(
    () => () => {
      clearTimeout(timer.current);
    },
    [],
  );
  const press = (): void => {
    pressed.current = true;
    setHolding(true);
    clearTimeout(timer.current);
    timer.current = setTimeout(() => {
      setHolding(false);
      setAsked(false);
      onHeld();
    }, HOLD_MS);
  };
  const release = (): void => {
    clearTimeout(timer.current);
    setHolding(false);
  };
  /** No click follows this press any more. */
  const letGo = (): void => {
    pressed.current = false;
    release();
  };
  return (
    <button
      type="button"
      title={`Hold to ${text.charAt(0).toLowerCase()}${text.slice(1)}`}
      aria-description={asked ? 'Press once more' : 'Hold, or press twice'}
      onPointerDown={(event) => {
        // The main button alone.
        if (!(event.button > 0)) press();
      }}
      onPointerUp={release}
      onPointerLeave={letGo}
      onPointerCancel={letGo}
      onContextMenu={(event) => {
        event.preventDefault();
      }}
      onKeyDown={(event) => {
        if (event.key !== 'Enter' && event.key !== ' ') return;
        event.preventDefault();
        if (!event.repeat) press();
      }}
      onKeyUp={() => {
        release();
        // The browser's own click comes with the key; the next one is meant.
        setTimeout(() => {
          pressed.current = false;
        });
      }}
      onBlur={release}
      onClick={() => {
        if (pressed.current) {
          pressed.current = false;
          return;
        }
        if (asked) onHeld();
        setAsked(!asked);
      }}
      className={`relative inline-flex h-8 touch-none items-center justify-center overflow-hidden rounded-md border border-rule bg-card px-3 font-medium whitespace-nowrap text-stop select-none hover:border-stop ${className}`}
    >
      <span
        aria-hidden="true"
        className={`absolute inset-y-0 left-0 bg-stop/25 ${holding ? 'w-full' : 'w-0'}`}
        style={{ transition: holding ? `width ${String(HOLD_MS)}ms linear` : 'none' }}
      />
      <span className="relative">{asked ? 'Press once more' : holding ? `Hold: ${text.toLowerCase()}` : text}</span>
    </button>
  );
}
