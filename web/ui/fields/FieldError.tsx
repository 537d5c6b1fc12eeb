/** What is wrong with a field, below it, and how it would be right. */
export function FieldError({ id, text }: { readonly id?: string; readonly text: string | undefined }) {
  if (text === undefined) return null;
  return (
    <span id={id} role="alert" className="block text-xs text-stop">
      {text}
    </span>
  );
}
