import { useState } from 'react';
import { compilePattern, NAME_PARTS, readName, type PatternRefusal } from '../../../core/ticket/namePattern.ts';
import { useZone } from '../../app/shopTime.ts';
import { Button } from '../../ui/Button.tsx';

const WRONG: Readonly<Record<PatternRefusal['code'], string>> = {
  empty: 'Write a pattern, or leave names alone.',
  'unknown-part': 'There is no such part:',
  'part-twice': 'This part is there twice:',
  brackets: 'The brackets do not match.',
};
const EXAMPLE = '{order}_{customer}_{copies}x_{width}x{height}{unit}[_{due}]';
const SAMPLES = 'LM-77_Lantern Street_12x_600x900mm_2026-10-08.pdf\nMT-93_Marram Theatre_1x_38x11.5in.png\nholiday.jpg';

/** A pattern for file names, tried out on sample names while it is typed. */
export function PatternField({
  value,
  onChange,
}: {
  readonly value: string | null;
  readonly onChange: (pattern: string | null) => void;
}) {
  const zone = useZone();
  const [text, setText] = useState(value ?? '');
  const [samples, setSamples] = useState(SAMPLES);
  const pattern = compilePattern(text);
  const wrong =
    pattern.ok || text === ''
      ? undefined
      : `${WRONG[pattern.reason.code]} ${'part' in pattern.reason ? `{${pattern.reason.part}}` : ''}`;
  const context = { zone, dayEndsAt: { h: 18, mi: 0 }, unit: 'mm' as const };
  return (
    <div className="mt-1">
      <label className="block">
        <span className="text-soft">Names carry</span>
        <input
          aria-label="Name pattern"
          placeholder={EXAMPLE}
          value={text}
          maxLength={300}
          aria-invalid={wrong !== undefined}
          onChange={(event) => {
            setText(event.target.value);
          }}
          className="mt-0.5 h-8 w-full rounded border border-rule bg-card px-2 aria-invalid:border-stop"
        />
      </label>
      {wrong !== undefined && <p className="text-xs text-stop">{wrong}</p>}
      <p className="dense my-1 text-soft">
        Parts: {NAME_PARTS.map((part) => `{${part}}`).join(' ')}. What stands in [ ] may be missing.
      </p>
      <label className="block">
        <span className="text-soft">Tried out on</span>
        <textarea
          aria-label="Sample names"
          rows={3}
          value={samples}
          onChange={(event) => {
            setSamples(event.target.value);
          }}
          className="dense mt-0.5 block w-full rounded border border-rule bg-card px-2 py-1"
        />
      </label>
      {pattern.ok && (
        <ul aria-label="What the names say" className="dense my-1">
          {samples
            .split('\n')
            .filter((name) => name.trim() !== '')
            .slice(0, 12)
            .map((name, index) => {
              const read = readName(pattern.value, name.trim(), context);
              return (
                <li key={`${name}-${String(index)}`} className="py-0.5">
                  {read.ok ? (
                    Object.entries(read.value.parts).map(([part, got]) => (
                      <span key={part} className="mr-2">
                        <span className="text-soft">{part}</span> <span className="font-medium">{got}</span>
                      </span>
                    ))
                  ) : (
                    <span className="text-wait">
                      {name}:{' '}
                      {read.reason.code === 'no-match'
                        ? 'does not match; nothing is read from it'
                        : `${read.reason.part} “${read.reason.got}” can't be read; nothing is read from it`}
                    </span>
                  )}
                </li>
              );
            })}
        </ul>
      )}
      <span className="flex gap-2">
        <Button
          kind="main"
          disabled={!pattern.ok || text === value}
          onClick={() => {
            onChange(text);
          }}
        >
          Use this pattern
        </Button>
        {value !== null && (
          <Button
            kind="quiet"
            onClick={() => {
              setText('');
              onChange(null);
            }}
          >
            Leave names alone
          </Button>
        )}
      </span>
    </div>
  );
}
