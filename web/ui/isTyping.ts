/** Whether a key belongs to a field: then it is no command. */
export function isTyping(target: EventTarget | null): boolean {
  // A box that has just been ticked takes no letters.
  if (target instanceof HTMLInputElement && ['checkbox', 'radio'].includes(target.type)) return false;
  return (
    target instanceof HTMLElement &&
    (target.isContentEditable || ['INPUT', 'TEXTAREA', 'SELECT'].includes(target.tagName))
  );
}
