import { PDFArray, PDFDict, type PDFDocument, PDFName, PDFNumber, PDFRawStream, type PDFRef } from '@cantoo/pdf-lib';
import { isSrgb } from '../../../core/coats/artworkProfiles.ts';
import { Unreadable } from '../facts.ts';
import { profileHeader } from '../colour/profileHeader.ts';
import { streamBytes } from '../pdf/pdfContents.ts';
import { profileOf } from '../pdf/colours/pdfColours.ts';
import { UNREADABLE_PROFILE, profileName } from '../picture/profileName.ts';

const name = (text: string): PDFName => PDFName.of(text);

/** A profile that a picture brings, where it says more than that the picture is plain sRGB. */
export function sayingMore(icc: Buffer | undefined): Buffer | null {
  if (!icc || isSrgb(profileName(icc) ?? '')) return null;
  try {
    profileHeader(icc);
    return icc;
  } catch (error) {
    // What is no profile at all can't go along; whoever reads the colours says so.
    if (error instanceof Unreadable) return null;
    throw error;
  }
}

/** Says of a picture by which profile its colours are to be read. @param channels of the picture */
export function tagPicture(out: PDFDocument, ref: PDFRef, icc: Buffer | null, channels: number): void {
  const image = out.context.lookup(ref);
  if (icc === null || !(image instanceof PDFRawStream)) return;
  const profile = out.context.register(out.context.flateStream(icc, { N: channels }));
  image.dict.set(name('ColorSpace'), out.context.obj(['ICCBased', profile]));
}

const DEFAULTS: Readonly<Record<number, string>> = { 3: 'DefaultRGB', 4: 'DefaultCMYK' };

/** What a document says of all its pages: by which profile colours are meant that bring none. */
export interface OutputIntent {
  /** Of the default space that says so on a page. */
  readonly key: string;
  /** In the file that its pages are put into, once for all of them. */
  readonly profile: PDFRef;
}

/** Takes along what a document says of all its pages; null: nothing that is more than plain sRGB. */
export function takeOutputIntent(out: PDFDocument, document: PDFDocument): OutputIntent | null {
  const profile = outputProfile(document);
  const n = profile?.dict.lookup(name('N'));
  const channels = n instanceof PDFNumber ? n.asNumber() : 0;
  const key = DEFAULTS[channels];
  if (!profile || key === undefined) return null;
  const called = profileOf(profile) ?? UNREADABLE_PROFILE;
  if (called === UNREADABLE_PROFILE || isSrgb(called)) return null;
  const stream = out.context.flateStream(streamBytes(profile), { N: channels });
  return { key, profile: out.context.register(stream) };
}

/**
 * Says it on a page that was taken out of its document and would lose it. Source: ISO 15930 (output intents), ISO 32000-1, 8.6.5.6 (default
 * colour spaces).
 * @param page as a form
 */
export function keepOutputIntent(out: PDFDocument, page: PDFRef, intent: OutputIntent | null): void {
  const { context } = out;
  const form = context.lookup(page);
  if (!intent || !(form instanceof PDFRawStream)) return;
  const own = form.dict.lookup(name('Resources'));
  const resources = own instanceof PDFDict ? own : context.obj({});
  const known = resources.lookup(name('ColorSpace'));
  const spaces = known instanceof PDFDict ? known : context.obj({});
  if (spaces.has(name(intent.key))) return;
  spaces.set(name(intent.key), context.obj(['ICCBased', intent.profile]));
  resources.set(name('ColorSpace'), spaces);
  form.dict.set(name('Resources'), resources);
}

function outputProfile(document: PDFDocument): PDFRawStream | undefined {
  const intents = document.catalog.lookup(name('OutputIntents'));
  const first = intents instanceof PDFArray ? intents.lookup(0) : undefined;
  const profile = first instanceof PDFDict ? first.lookup(name('DestOutputProfile')) : undefined;
  return profile instanceof PDFRawStream ? profile : undefined;
}
