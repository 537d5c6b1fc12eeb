import { ChevronLeft, ChevronRight } from 'lucide-react';

/** One of a few words, side by side: the one that counts is marked. */
export function ChoiceBar<T extends string>({
  label,
  choices,
  chosen,
  className = '',
  onChoose,
}: {
  readonly label: string;
  readonly choices: readonly T[];
  /** Undefined: none of them. */
  readonly chosen: T | undefined;
  readonly className?: string;
  readonly onChoose: (choice: T) => void;
}) {
  return (
    <div className={`flex items-center ${className}`} role="group" aria-label={label}>
      {choices.map((each) => (
        <button
          key={each}
          type="button"
          aria-pressed={each === chosen}
          onClick={() => {
            onChoose(each);
          }}
          className="rounded-md border border-transparent px-2 py-1 whitespace-nowrap text-soft hover:text-ink aria-pressed:border-ink aria-pressed:bg-spool aria-pressed:font-medium aria-pressed:text-on-spool"
        >
          {each}
        </button>
      ))}
    </div>
  );
}

/** One period back or on. */
export function StepButton({
  label,
  disabled = false,
  onClick,
}: {
  readonly label: 'Earlier' | 'Later';
  readonly disabled?: boolean;
  readonly onClick: () => void;
}) {
  const Icon = label === 'Earlier' ? ChevronLeft : ChevronRight;
  return (
    <button
      type="button"
      aria-label={label}
      title={label}
      disabled={disabled}
      onClick={onClick}
      className="rounded p-1 text-soft hover:bg-rule/50 hover:text-ink disabled:opacity-30"
    >
      <Icon size={18} />
    </button>
  );
}
