/** Everything on the page that has a name of its own: fields, buttons, tabs, headings, columns, lists, and terms beside figures. */
const NAMED =
  'input:not([type=hidden]), select, textarea, button, a[href], summary, [role=tab], [role=menuitem], [role=menuitemcheckbox], h1, h2, h3, legend, th, [role=columnheader], ul[aria-label], [data-term]';

const tidy = (text: string): string => text.replace(/\s+/g, ' ').trim();

/** What an element is called, for people and for screen readers. */
export function nameOf(element: Element): string {
  const said = element.getAttribute('aria-label');
  if (said) return tidy(said);
  if (
    element instanceof HTMLInputElement ||
    element instanceof HTMLSelectElement ||
    element instanceof HTMLTextAreaElement
  ) {
    const [label] = element.labels ?? [];
    // A box inside its label: the words of the label alone, not those of the choices in it.
    const words = [...(label?.childNodes ?? [])]
      .filter((node) => !node.contains(element))
      .map((node) => node.textContent);
    return tidy(words.join(' ')) || tidy(element.title);
  }
  // By lines, as it is seen: what stands below each other is not one word.
  return tidy((element as HTMLElement).innerText);
}

/** What is there now and can be seen, with its name. */
export function namedOnPage(root: ParentNode): { readonly element: HTMLElement; readonly name: string }[] {
  return [...root.querySelectorAll<HTMLElement>(NAMED)]
    .filter((element) => element.getClientRects().length > 0)
    .map((element) => ({ element, name: nameOf(element) }))
    .filter(({ name }) => name !== '');
}
