import { type ReactNode, useEffect, useRef, useState } from 'react';

interface FlyOutProps {
  /** Of the button, where it shows no words. */
  readonly label?: string;
  /** Said while the pointer rests on it; else its label. */
  readonly hint?: string;
  /** What stands in it: a landmark of its own. */
  readonly title: string;
  readonly button: ReactNode;
  readonly buttonClass: string;
  /** Above the button or below it. */
  readonly up?: boolean;
  /** It holds more than it shows, and nothing that takes the focus. */
  readonly scrolls?: boolean;
  /** Where it stands instead, for a button whose surroundings clip. */
  readonly placeClass?: string;
  /** Its width and what else it looks like. */
  readonly panelClass: string;
  readonly children: (close: () => void) => ReactNode;
}

/**
 * Something that unfolds beside its button and stays part of its place on the page. Escape, a click beside it or leaving it by Tab
 * closes it; Escape gives the focus back to the button.
 */
export function FlyOut({
  label,
  hint = label,
  title,
  button,
  buttonClass,
  up = false,
  scrolls = false,
  placeClass,
  panelClass,
  children,
}: FlyOutProps) {
  const [open, setOpen] = useState(false);
  const [side, setSide] = useState('right-0');
  const whole = useRef<HTMLSpanElement>(null);
  const toggle = useRef<HTMLButtonElement>(null);
  useEffect(() => {
    if (!open) return undefined;
    const outside = (event: PointerEvent): void => {
      if (event.target instanceof Node && !whole.current?.contains(event.target)) setOpen(false);
    };
    document.addEventListener('pointerdown', outside);
    return () => {
      document.removeEventListener('pointerdown', outside);
    };
  }, [open]);
  const close = (): void => {
    setOpen(false);
    toggle.current?.focus();
  };
  return (
    <span
      ref={whole}
      className={placeClass === undefined ? 'relative inline-flex' : 'inline-flex'}
      onKeyDown={(event) => {
        if (event.key !== 'Escape' || !open) return;
        event.stopPropagation();
        close();
      }}
      onBlur={(event) => {
        if (event.relatedTarget instanceof Node && !event.currentTarget.contains(event.relatedTarget)) setOpen(false);
      }}
    >
      <button
        ref={toggle}
        type="button"
        aria-label={label}
        title={hint}
        aria-expanded={open}
        onClick={(event) => {
          // It grows to where there is room: from a button at the left to the right.
          const { left, right } = event.currentTarget.getBoundingClientRect();
          setSide((left + right) / 2 < window.innerWidth / 2 ? 'left-0' : 'right-0');
          setOpen(!open);
        }}
        className={buttonClass}
      >
        {button}
      </button>
      {open && (
        <section
          aria-label={title}
          // What scrolls and holds nothing that takes the focus has to be reached by keys all the same.
          tabIndex={scrolls ? 0 : undefined}
          className={`z-30 rounded-md border border-rule bg-card shadow-lg ${placeClass ?? `absolute ${side} ${up ? 'bottom-full mb-1.5' : 'top-full mt-1.5'}`} ${panelClass}`}
        >
          <Content render={children} close={close} />
        </section>
      )}
    </span>
  );
}

function Content({ render, close }: { readonly render: FlyOutProps['children']; readonly close: () => void }) {
  return render(close);
}
