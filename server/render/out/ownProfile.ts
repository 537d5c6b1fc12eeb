import {
  PDFArray,
  PDFDict,
  type PDFDocument,
  PDFName,
  PDFNumber,
  type PDFPage,
  PDFRawStream,
  type PDFRef,
} from '@cantoo/pdf-lib';
import { isSrgb } from '../../../core/coats/artworkProfiles.ts';
import { Unreadable } from '../facts.ts';
import { profileHeader } from '../colour/profileHeader.ts';
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

/**
 * Says on a page itself what its document says of all its pages: by which profile colours are meant that bring none. A page that is taken
 * out of its document would lose that. Source: ISO 15930 (output intents), ISO 32000-1, 8.6.5.6 (default colour spaces).
 */
export function keepOutputIntent(document: PDFDocument, page: PDFPage): void {
  const profile = outputProfile(document);
  const n = profile?.dict.lookup(name('N'));
  const key = n instanceof PDFNumber ? DEFAULTS[n.asNumber()] : undefined;
  const ref = profile && document.context.getObjectRef(profile);
  if (key === undefined || !ref) return;
  const called = profileOf(profile) ?? UNREADABLE_PROFILE;
  if (called === UNREADABLE_PROFILE || isSrgb(called)) return;
  const { context } = document;
  const resources = page.node.Resources()?.clone(context) ?? context.obj({});
  const known = resources.lookup(name('ColorSpace'));
  const spaces = known instanceof PDFDict ? known.clone(context) : context.obj({});
  if (spaces.has(name(key))) return;
  spaces.set(name(key), context.obj(['ICCBased', ref]));
  resources.set(name('ColorSpace'), spaces);
  page.node.set(name('Resources'), resources);
}

function outputProfile(document: PDFDocument): PDFRawStream | undefined {
  const intents = document.catalog.lookup(name('OutputIntents'));
  const first = intents instanceof PDFArray ? intents.lookup(0) : undefined;
  const profile = first instanceof PDFDict ? first.lookup(name('DestOutputProfile')) : undefined;
  return profile instanceof PDFRawStream ? profile : undefined;
}
