interface WipeProps {
  /** How far the line has come from the left, in percent. */
  readonly share: number;
}

/** The line of a wipe, in a box that stands relative: left of it what was before, right of it what is after. */
export function WipeLine({ share }: WipeProps) {
  return (
    <div
      aria-hidden="true"
      className="absolute inset-y-0 w-0.5 -translate-x-1/2 bg-spool outline outline-ink/40"
      style={{ left: `${String(share)}%` }}
    />
  );
}

/** What of the picture before is left to be seen: its part left of the line. */
export function beforeWipe({ share }: WipeProps): { readonly clipPath: string } {
  return { clipPath: `inset(0 ${String(100 - share)}% 0 0)` };
}

/** Moves the line by keys or mouse. */
export function WipeSlider({ share, onChange }: WipeProps & { readonly onChange: (share: number) => void }) {
  return (
    <input
      type="range"
      min={0}
      max={100}
      value={share}
      aria-label="Wipe between before and after"
      className="w-full accent-[var(--tide)]"
      onChange={(event) => {
        onChange(Number(event.target.value));
      }}
    />
  );
}
