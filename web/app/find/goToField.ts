import { namedOnPage } from './labels.ts';
import { focusableIn } from '../../ui/takesFocus.ts';

/** How long what is looked for may take to be drawn. */
const PATIENCE_MS = 5000;
const LOOK_MS = 60;
const SHOWN_MS = 2500;

/** The element that has this name, or begins with it: behind it may stand what it belongs to. */
function namedElement(name: string): HTMLElement | undefined {
  const wanted = name.toLowerCase();
  const all = namedOnPage(document).map((each) => ({ ...each, name: each.name.toLowerCase() }));
  // The rail names views; what is looked for stands in the view itself where both are called the same.
  const view = document.getElementById('view');
  const same = all.filter((each) => each.name === wanted);
  const found = same.length > 0 ? same : all.filter((each) => each.name.startsWith(wanted));
  return (found.find(({ element }) => view?.contains(element)) ?? found[0])?.element;
}

const pause = (): Promise<void> => new Promise((done) => setTimeout(done, LOOK_MS));

async function waitFor(name: string, signal: AbortSignal): Promise<HTMLElement | undefined> {
  for (let waited = 0; waited < PATIENCE_MS && !signal.aborted; waited += LOOK_MS) {
    const element = namedElement(name);
    if (element) return element;
    await pause();
  }
  return undefined;
}

/**
 * Goes to the very field of a view that is being opened: what hides it is opened first, then it is brought into sight, gets
 * the focus and is marked for a moment.
 * @param open names of the tabs and buttons that have to be pressed before, in order
 */
export async function goToField(field: string, open: readonly string[], signal: AbortSignal): Promise<void> {
  // The box in which it was looked for gives the focus back to where it came from when it has closed.
  while (document.querySelector('[role=dialog]') && !signal.aborted) await pause();
  await pause();
  for (const name of open) {
    const button = await waitFor(name, signal);
    if (!button || signal.aborted) return;
    if (button.getAttribute('aria-expanded') !== 'true' && button.getAttribute('aria-selected') !== 'true')
      button.click();
  }
  const found = await waitFor(field, signal);
  if (!found || signal.aborted) return;
  // A term or a heading takes no focus itself; what belongs to it stands beside it.
  const target = found.matches('[data-term], h1, h2, h3, legend, th')
    ? (focusableIn(found.parentElement ?? found)[0] ?? found)
    : found;
  target.scrollIntoView({ block: 'center' });
  target.focus({ preventScroll: true });
  // Only what was looked for last is marked.
  for (const other of document.querySelectorAll('.found')) other.classList.remove('found');
  found.classList.add('found');
  setTimeout(() => {
    found.classList.remove('found');
  }, SHOWN_MS);
}
