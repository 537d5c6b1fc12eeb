import { useState, type ReactNode } from 'react';
import { FormProvider, type DefaultValues, type FieldValues, useForm } from 'react-hook-form';
import { errorText } from '../api/client.ts';
import { Button } from '../ui/Button.tsx';

interface FormProps<T extends FieldValues> {
  readonly start: DefaultValues<T>;
  readonly button: string;
  /** May be refused. */
  readonly send: (values: T) => Promise<unknown>;
  /** Told of a refusal; true: nothing has to be said about it. */
  readonly onRefused?: (error: unknown) => boolean;
  readonly onDone: () => void;
  readonly children: ReactNode;
}

/** Sends what was entered as a whole; a refusal is said above the button, and nothing that was entered is lost. */
export function EntryForm<T extends FieldValues>({ start, button, send, onRefused, onDone, children }: FormProps<T>) {
  const form = useForm<T>({ defaultValues: start });
  const [trouble, setTrouble] = useState<string>();
  const submit = form.handleSubmit(async (values) => {
    setTrouble(undefined);
    try {
      await send(values);
      onDone();
    } catch (error) {
      if (onRefused?.(error) !== true) setTrouble(errorText(error));
    }
  });
  return (
    <FormProvider {...form}>
      <form className="flex flex-col gap-3" onSubmit={(event) => void submit(event)} noValidate>
        {children}
        {trouble !== undefined && (
          <p role="alert" className="text-stop">
            {trouble}
          </p>
        )}
        <Button type="submit" kind="main" className="h-10 w-full" disabled={form.formState.isSubmitting}>
          {form.formState.isSubmitting ? 'One moment …' : button}
        </Button>
      </form>
    </FormProvider>
  );
}
