/** A page without its font would stay empty no longer than this. */
const MOST_MS = 800;

/** The text font is there, or takes too long: text that changes its font later moves what is about to be pressed. */
export async function fontIsThere(): Promise<void> {
  const late = new Promise((done) => setTimeout(done, MOST_MS));
  await Promise.race([document.fonts.load("16px 'Archivo Variable'", 'Aa0'), late]).catch(() => undefined);
}
