import { createContext, useCallback, useContext, useEffect, useRef, type ReactNode } from 'react';
import { FormProvider, type FieldPath, type FieldValues, useForm } from 'react-hook-form';
import { useInOrder } from '../useInOrder.ts';

type Keep = (name: string, value: unknown) => void;

const KeepContext = createContext<Keep | undefined>(undefined);

interface SavedFormProps<T extends FieldValues> {
  /** What is kept, as it was last heard. */
  readonly value: T;
  /** Keeps the whole; `changed` names the field that was changed. May be refused. */
  readonly save: (next: T, changed: FieldPath<T>) => Promise<unknown> | undefined;
  readonly onRefused: (error: unknown) => void;
  readonly children: ReactNode;
}

/**
 * A form whose fields are saved one by one, each as soon as it is committed. A change shows at once, and the next one is built
 * upon it. What others change meanwhile comes in everywhere but in fields that are being saved. A refused change is put back.
 */
export function SavedForm<T extends FieldValues>({ value, save, onRefused, children }: SavedFormProps<T>) {
  const inOrder = useInOrder();
  const form = useForm<T>({ values: value, resetOptions: { keepDirtyValues: true } });
  // Only where somebody listens, the form keeps account of which fields are being saved.
  useEffect(() => form.subscribe({ formState: { dirtyFields: true }, callback: () => undefined }), [form]);
  /** Counts the changes of each field: only the answer to its newest one says what it is now. */
  const turns = useRef(new Map<string, number>());
  const keep = useCallback<Keep>(
    (field, next) => {
      const name = field as FieldPath<T>;
      const before = form.getValues(name);
      const turn = (turns.current.get(name) ?? 0) + 1;
      turns.current.set(name, turn);
      const isNewest = (): boolean => turns.current.get(name) === turn;
      form.setValue(name, next as typeof before, { shouldDirty: true });
      void inOrder(async () => {
        try {
          // The whole as it is when its turn comes: a change that was refused meanwhile is not sent once more.
          await save(structuredClone(form.getValues()), name);
          if (isNewest()) form.resetField(name, { defaultValue: next as never });
        } catch (error) {
          if (isNewest()) form.resetField(name, { defaultValue: before });
          onRefused(error);
        }
      });
    },
    [form, save, onRefused, inOrder],
  );
  return (
    <FormProvider {...form}>
      <KeepContext value={keep}>{children}</KeepContext>
    </FormProvider>
  );
}

/** Changes one field of the form around it, and saves it. */
export function useKeep(): Keep {
  const keep = useContext(KeepContext);
  if (!keep) throw new Error('used outside SavedForm');
  return keep;
}
