import { useState } from 'react';
import type { ComponentProps } from 'react';
import type { Result } from '../../../core/result.ts';
import { useReportWrong } from './FieldGroup.tsx';

/** How one kind of field reads and shows its value; everything else is the same for all of them. */
interface DraftOf<T> {
  /** The kept value, as it is shown. */
  readonly shown: string;
  /** What the typed text means, or the sentence that says what is wrong with it. */
  readonly parse: (text: string) => Result<T, string>;
  /** Whether this is the kept value, written in another way: `12.0` of 12. */
  readonly isKept: (value: T) => boolean;
  /** Says what is wrong while it is being typed: for what is right at every letter. */
  readonly live?: boolean;
  /** Every text that can be read is committed while it is typed: where a button beside it waits for the change. */
  readonly atOnce?: boolean;
  /** Called with every other value. */
  readonly onCommit: (value: T) => void;
}

export interface Draft {
  readonly text: string;
  /** What is wrong with the text; it stays, to be mended. */
  readonly wrong: string | undefined;
  readonly input: Pick<ComponentProps<'input'>, 'value' | 'aria-invalid' | 'onChange' | 'onBlur' | 'onKeyDown'>;
}

/**
 * What is being typed into a field. It is committed on Enter and on leaving the field; Escape puts the kept value back. A text
 * that can't be read stays with its error, so that nothing typed is lost. A kept value that changes meanwhile, since another
 * person has changed it, replaces the text unless somebody is typing.
 */
export function useDraft<T>({ shown, parse, isKept, live = false, atOnce = false, onCommit }: DraftOf<T>): Draft {
  const [draft, setDraft] = useState<{ readonly text: string; readonly typing: boolean }>();
  const [wrong, setWrong] = useState<string>();
  const [kept, setKept] = useState(shown);
  if (kept !== shown) {
    setKept(shown);
    if (draft?.typing !== true) {
      setDraft(undefined);
      setWrong(undefined);
    }
  }
  const text = draft?.text ?? shown;
  const typed = live && draft?.typing === true && text !== '' ? parse(text) : undefined;
  const said = wrong ?? (typed?.ok === false ? typed.reason : undefined);
  useReportWrong(said !== undefined);
  const putBack = (): void => {
    setDraft(undefined);
    setWrong(undefined);
  };
  const commit = (): void => {
    if (draft?.typing !== true) return;
    if (text.trim() === shown) {
      putBack();
      return;
    }
    const read = parse(text);
    if (!read.ok) {
      setWrong(read.reason);
      return;
    }
    if (isKept(read.value)) {
      putBack();
      return;
    }
    setWrong(undefined);
    // The text stays until the kept value follows; the field must not show the old value in between.
    setDraft({ text, typing: false });
    onCommit(read.value);
  };
  return {
    text,
    wrong: said,
    input: {
      value: text,
      'aria-invalid': said !== undefined,
      onChange: (event) => {
        setDraft({ text: event.target.value, typing: true });
        // It is being mended.
        setWrong(undefined);
        const read = atOnce ? parse(event.target.value) : undefined;
        if (read?.ok === true && !isKept(read.value)) onCommit(read.value);
      },
      onBlur: commit,
      onKeyDown: (event) => {
        if (event.key === 'Enter') commit();
        if (event.key !== 'Escape' || (draft?.typing !== true && said === undefined)) return;
        // What was typed is given up first; what the field stands in stays open.
        event.preventDefault();
        putBack();
      },
    },
  };
}
