import { type Font, openSync } from 'fontkit';
import { packageFile } from '../../files/packageFile.ts';

const STYLES = ['400Regular', '700Bold', '400Regular_Italic', '700Bold_Italic'] as const;
/** As wide as the faces that most programs name, so that a text keeps its lines. */
const FACES = { arimo: 'Arimo', tinos: 'Tinos', cousine: 'Cousine' } as const;
type Face = keyof typeof FACES;

function fontFile(face: Face, style: (typeof STYLES)[number]): string {
  return packageFile(`@expo-google-fonts/${face}/${style}/${FACES[face]}_${style}.ttf`);
}

/** Every typeface that text in an SVG may be set in; nothing of the machine's own is used, so that it comes out alike everywhere. */
export function fontFiles(): string[] {
  return (Object.keys(FACES) as Face[]).flatMap((face) => STYLES.map((style) => fontFile(face, style)));
}

/** The families that stand in for all others. */
export const FAMILIES = { sans: FACES.arimo, serif: FACES.tinos, mono: FACES.cousine } as const;

/** The file of the typeface that stands in for a family. */
export function fontFor(family: string, bold: boolean, italic: boolean): string {
  const face: Face = /mono|courier|consol/i.test(family)
    ? 'cousine'
    : /(?<!sans-)serif|times|georgia|garamond/i.test(family)
      ? 'tinos'
      : 'arimo';
  return fontFile(face, `${bold ? '700Bold' : '400Regular'}${italic ? '_Italic' : ''}`);
}

let plain: Font | undefined;

/** Whether a letter is in the typeface that most text is set in; spaces and joiners need none. */
export function canWrite(letter: string): boolean {
  const point = letter.codePointAt(0) ?? 0;
  if (/[\s\p{Cf}\p{Cc}\p{Mn}]/u.test(letter)) return true;
  if (!plain) {
    const font = openSync(fontFile('arimo', '400Regular'));
    if ('fonts' in font) throw new Error('a collection of fonts where one was expected');
    plain = font;
  }
  return plain.hasGlyphForCodePoint(point);
}
